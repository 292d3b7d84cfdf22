"""Flows as tables and graphs: comma- or tab-separated values, GraphML, DOT."""
