"""Arrows between packages point one way, and nothing but the desk loads Qt."""

import ast
import subprocess
import sys
import unittest
from pathlib import Path

import mossy_bridge

ROOT = Path(mossy_bridge.__file__).parent
BELOW = {
    "model": set(),
    "language": {"model"},
    "plan": {"model"},
    "exchange": {"model", "language", "plan"},
    "play": {"model", "language", "plan"},
    "reach": {"model", "language", "plan", "play"},
    "checks": {"model", "language", "plan", "play", "reach"},
    "demo": {"model", "language", "exchange", "play", "reach", "checks", "desk"},
    "desk": {"model", "language", "plan", "exchange", "play", "reach", "checks"},
}
MAY_LOAD_QT = {"desk", "demo"}


def violations(package, source):
    """What the source of a file of the package loads and may not."""
    found = []
    for node in ast.walk(ast.parse(source)):
        names = [a.name for a in node.names] if isinstance(node, ast.Import) else []
        if isinstance(node, ast.ImportFrom) and node.module:
            names = [node.module]
        for name in names:
            parts = name.split(".")
            if parts[0].startswith("PyQt") and package not in MAY_LOAD_QT:
                found.append(name)
            if parts[0] == "mossy_bridge" and len(parts) > 1:
                inner = parts[1] in BELOW and parts[1] != package
                if inner and parts[1] not in BELOW[package]:
                    found.append(name)
    return found


class Layers(unittest.TestCase):
    def test_nothing_loads_what_stands_above_it(self):
        looked_at = 0
        for package in BELOW:
            for path in (ROOT / package).rglob("*.py"):
                looked_at += 1
                self.assertEqual(violations(package, path.read_text("utf-8")), [], path)
        self.assertGreater(looked_at, 50)

    def test_a_planted_violation_is_found(self):
        for package, source in (
            ("model", "from mossy_bridge.play.rules import Rules"),
            ("play", "def f():\n    import mossy_bridge.reach.explicit.reachability_graph"),
            ("checks", "from PyQt6 import QtCore"),
            ("exchange", "import mossy_bridge.desk.app"),
        ):
            self.assertTrue(violations(package, source), source)

    def test_the_core_works_where_qt_cannot_be_loaded(self):
        script = """
import sys
sys.modules["PyQt6"] = None
import mossy_bridge.checks.runner, mossy_bridge.reach.queries.crossing_columns, mossy_bridge.exchange.saving, mossy_bridge.command
"""
        subprocess.run([sys.executable, "-c", script], check=True)


if __name__ == "__main__":
    unittest.main()
