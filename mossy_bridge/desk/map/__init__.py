"""The map: levels in computed columns, crossings as footbridges."""
