"""Arrows between packages and rooms point one way, no modules import each other in a circle, and only the desk loads
Qt."""

import ast
import subprocess
import sys
import unittest
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

import mossy_bridge

ROOT = Path(mossy_bridge.__file__).parent.parent
CORE = {"model", "language", "plan", "play"}
BELOW = {
    "model": set(),
    "language": {"model"},
    "plan": {"model"},
    "level_files": {"model", "language", "plan"},
    "play": {"model", "language", "plan"},
    "exchange": CORE | {"level_files"},
    "reach": CORE,
    "checks": CORE | {"reach", "level_files"},
    "appraisal": CORE | {"reach", "checks", "exchange", "level_files"},
    "desk": CORE | {"reach", "checks", "exchange", "appraisal", "level_files", "play_logs"},
    "standin": set(),
    "play_logs": CORE,
    "demo": CORE | {"reach", "checks", "exchange", "appraisal", "desk", "level_files", "play_logs", "standin"},
    "command": CORE
    | {"reach", "checks", "exchange", "appraisal", "desk", "demo", "level_files", "standin", "play_logs"},
}
"""What each package may import from."""
MAY_LOAD_QT = {"desk", "demo", "standin"}
ROOMS = ("limits", "arrays", "scc", "system", "explicit", "abstraction", "monotone", "survey", "queries")
"""The rooms of ``reach``, from the lowest to the highest."""
OPEN_ROOMS = ("survey", "queries")
"""Those that other packages may import from."""
NOBODY_IMPORTS = {"mossy_bridge.desk.window": ("mossy_bridge.desk.program", "mossy_bridge.demo.showing")}
"""Modules that put everything together, and who begins them."""


def modules():
    """Every module of the program by its dotted name, with its source."""
    found = {}
    for path in sorted((ROOT / "mossy_bridge").rglob("*.py")):
        parts = path.relative_to(ROOT).with_suffix("").parts
        found[".".join(parts[:-1] if parts[-1] == "__init__" else parts)] = path.read_text("utf-8")
    return found


def imported(name, source, known):
    """The dotted names that a module imports, in whichever of the ways there are; modules of ``known`` where it can be
    told that one of them is meant."""
    is_package = any(other.startswith(f"{name}.") for other in known)
    package = name if is_package else name.rpartition(".")[0]
    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom):
            base = node.module or ""
            if node.level:
                above = package.split(".")[: len(package.split(".")) - node.level + 1]
                base = ".".join([*above, *([base] if base else [])])
            for alias in node.names:
                inner = f"{base}.{alias.name}"
                yield inner if inner in known else base
        elif isinstance(node, ast.Call) and node.args and isinstance(node.args[0], ast.Constant):
            called = node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")
            if called in ("import_module", "__import__") and isinstance(node.args[0].value, str):
                yield node.args[0].value


def violations(name, source, known=()):
    """What a module imports and may not."""
    parts = name.split(".")
    package, room = (parts[1] if len(parts) > 1 else ""), (parts[2] if len(parts) > 2 else "")
    for target in imported(name, source, known):
        there = target.split(".")
        if there[0].startswith("PyQt") and package in BELOW and package not in MAY_LOAD_QT:
            yield target
        if there[0] != "mossy_bridge" or len(there) < 2 or there[1] not in BELOW:
            continue
        if package in BELOW and there[1] != package and there[1] not in BELOW[package]:
            yield target
        inner = there[2] if len(there) > 2 else ""
        if there[1] == "reach" and package == "reach" and inner and ROOMS.index(inner) > ROOMS.index(room):
            yield target
        if there[1] == "reach" and package != "reach" and inner not in OPEN_ROOMS:
            yield target
        if name not in NOBODY_IMPORTS.get(target, (name,)):
            yield target


def circle(sources):
    """Modules that import each other in a circle; none if there is no such."""
    graph = {
        name: {t for t in imported(name, source, sources) if t in sources and t != name}
        for name, source in sources.items()
    }
    try:
        TopologicalSorter(graph).prepare()
    except CycleError as error:
        return error.args[1]
    return []


class Layers(unittest.TestCase):
    def test_nothing_imports_what_stands_above_it(self):
        known = modules()
        for name, source in known.items():
            with self.subTest(name):
                self.assertEqual(list(violations(name, source, known)), [])
        self.assertGreater(len(known), 200)
        self.assertEqual({name.split(".")[1] for name in known if name.count(".") > 1} - BELOW.keys(), set())

    def test_no_modules_import_each_other_in_a_circle(self):
        self.assertEqual(circle(modules()), [])

    def test_planted_violations_are_found(self):
        known = {
            "mossy_bridge.play": "",
            "mossy_bridge.play.rules": "",
            "mossy_bridge.desk.window": "",
            "mossy_bridge.reach.explicit.explore": "",
        }
        for name, source in (
            ("mossy_bridge.model.flow", "from mossy_bridge.play.rules import Rules"),
            ("mossy_bridge.model.flow", "from mossy_bridge.play import rules"),
            ("mossy_bridge.model.flow", "from mossy_bridge import play"),
            ("mossy_bridge.model.flow", "from ..play import rules"),
            ("mossy_bridge.play.rules", "def f():\n    import mossy_bridge.reach.explicit.explore"),
            ("mossy_bridge.play.rules", "import importlib\nimportlib.import_module('mossy_bridge.checks.runner')"),
            ("mossy_bridge.play.rules", "from importlib import import_module\nimport_module('PyQt6.QtCore')"),
            ("mossy_bridge.play.rules", "__import__('mossy_bridge.desk.app')"),
            ("mossy_bridge.checks.runner", "from PyQt6 import QtCore"),
            ("mossy_bridge.exchange.saving", "import mossy_bridge.desk.app"),
            ("mossy_bridge.checks.runner", "from mossy_bridge.reach.explicit import explore"),
            ("mossy_bridge.reach.system.guards", "from mossy_bridge.reach.explicit.explore import explore"),
            ("mossy_bridge.desk.shell.actions", "from mossy_bridge.desk.window import Window"),
        ):
            with self.subTest(source):
                self.assertTrue(list(violations(name, source, known)))

    def test_planted_circles_are_found(self):
        other = {"mossy_bridge.a": "from mossy_bridge.b import f"}
        for back in ("import mossy_bridge.a", "from mossy_bridge import a", "from mossy_bridge.a import g", "from . import a",
                     "import importlib\nimportlib.import_module('mossy_bridge.a')"):  # fmt: skip
            with self.subTest(back):
                self.assertTrue(circle({**other, "mossy_bridge.b": back}))
        self.assertEqual(circle({**other, "mossy_bridge.b": "import os"}), [])

    def test_no_two_classes_have_one_name(self):
        classes = {}
        others = {name: source for name, source in modules().items() if ".standin" not in name}  # a game of its own
        for name, source in others.items():
            for node in ast.walk(ast.parse(source)):
                if isinstance(node, ast.ClassDef):
                    classes.setdefault(node.name.lstrip("_"), []).append(name)
        self.assertEqual({name: homes for name, homes in classes.items() if len(homes) > 1}, {})
        self.assertGreater(len(classes), 200)

    def test_the_core_works_where_qt_cannot_be_loaded(self):
        script = """
import sys
sys.modules["PyQt6"] = None
import mossy_bridge.appraisal.appraise, mossy_bridge.exchange.saving, mossy_bridge.command
"""
        subprocess.run([sys.executable, "-c", script], check=True)


if __name__ == "__main__":
    unittest.main()
