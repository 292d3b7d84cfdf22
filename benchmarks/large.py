"""Makes large flows for measuring: the same for the same size and seed."""

import random

from mossy_bridge.exchange.reading import flow_from_tree
from mossy_bridge.model.flow import Flow

LINE = 40
"""Levels of a region."""


def large_flow(levels: int, seed: int = 1) -> Flow:
    """A campaign of so many levels, three exits each: on to the next, back, and a branch or a shortcut near by;
    every tenth exit asks for one of a few keys. Every level has a plan."""
    pick = random.Random(seed)
    tree = {
        "mossy_bridge": 1,
        "title": f"{levels} levels",
        "start": {"level": "l0"},
        "endings": [{"id": "won", "name": "The lamp is lit"}],
        "regions": [{"id": f"r{i}", "name": f"Region {i + 1}"} for i in range((levels + LINE - 1) // LINE)],
        "facts": [{"id": f"key{i}", "name": f"Key {i + 1}", "kind": "flag"} for i in range(8)],
        "levels": [_level(number, levels, pick) for number in range(levels)],
    }
    return flow_from_tree(tree)


def _level(number: int, levels: int, pick: random.Random) -> dict[str, object]:
    near = max(0, min(levels - 1, number + pick.choice((-7, -3, 5, 9, 20))))
    deeds = [] if number % 50 else [{"id": "find", "x": 20, "y": 10, "effects": [f"gain key{number // 50 % 8}"]}]
    return {
        "id": f"l{number}",
        "code": f"{number // LINE + 1}-{number % LINE + 1}",
        "name": f"Level {number % LINE + 1}",
        "region": f"r{number // LINE}",
        "status": "ready",
        "plan": {"width": 40, "height": 12, "solids": [[0, 10, 40, 2], [pick.randrange(18, 30), 8, 5, 2]]},
        "spawns": [
            {"id": "west", "x": 4, "y": 10},
            {"id": "east", "x": 36, "y": 10, "faces": "left"},
            {"id": "stair", "x": 14, "y": 10},
        ],
        "deeds": deeds,
        "exits": [
            _exit("on", [38, 7, 2, 3], _on(number, levels)),
            _exit("back", [0, 7, 2, 3], {"level": f"l{max(0, number - 1)}", "spawn": "east"}),
            _exit(
                "stair",
                [10, 7, 2, 3],
                {"level": f"l{near}", "spawn": "stair"},
                "press",
                f"has key{number // 50 % 8}" if number % 3 == 1 else "always",
            ),
        ],
    }


def _on(number: int, levels: int) -> dict[str, str]:
    return (
        {"kind": "end", "ending": "won"} if number + 1 == levels else {"level": f"l{number + 1}", "spawn": "west"}
    )  # fmt: skip


def _exit(name: str, area: list[int], to: dict[str, str], trigger: str = "touch", opens: str = "always") -> object:
    return {"id": name, "area": area, "trigger": {"kind": trigger}, "opens": opens, "to": to}
