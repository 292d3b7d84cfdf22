"""Made-up flows for the map, and what is measured of a map: what lies over what, and how often bridges cross."""

import random
from itertools import combinations, pairwise

from mossy_bridge.desk.map.bridges import HALF
from mossy_bridge.exchange.reading import flow_from_tree

PLAN = {"width": 40, "height": 12, "solids": [[0, 10, 40, 2]]}
DOORS = ([0, 7, 2, 3], [38, 7, 2, 3], [12, 7, 2, 3], [24, 7, 2, 3], [30, 1, 2, 3], [6, 1, 2, 3])
MADE_UP = tuple((20 + 4 * seed, seed) for seed in range(11))
"""Sizes and seeds of the flows that the map is measured on."""
SPAWNS = [
    {"id": f"by{number}", "x": area[0] + 3 if area[0] < 36 else 35, "y": area[1] + 3}
    for number, area in enumerate(DOORS)
]


def made_up_flow(levels, seed):
    """A flow of doors there and back, some locked, with short cuts, one-way falls, a retry screen and a hub."""
    pick = random.Random(seed)
    made = [
        {
            "id": f"l{n}",
            "name": f"Reach {n}",
            "code": f"1-{n}",
            "plan": PLAN,
            "spawns": SPAWNS,
            "exits": [],
            "deeds": [],
        }
        for n in range(levels)
    ]
    for number in range(1, levels):
        near = pick.randrange(max(0, number - pick.choice((1, 2, 4, 9))), number)
        lock = f"has key{pick.randrange(3)}" if pick.random() < 0.2 else "always"
        _door(made, near, number, lock)
        _door(made, number, near, "always")
    for _ in range(levels // 5):
        one, other = pick.sample(range(levels), 2)
        _door(made, one, other, "at least 2 shells" if pick.random() < 0.4 else "always")
    for number in range(3):
        made[0]["deeds"].append({"id": f"k{number}", "effects": [f"gain key{number}"]})
    for level in made:
        level["exits"].append({"id": "fail", "trigger": {"kind": "fail"}, "to": {"level": "retry"}})
    made[-1]["exits"].append({"id": "won", "trigger": {"kind": "choose"}, "to": {"kind": "end", "ending": "won"}})
    made[pick.randrange(levels)]["exits"].append({"id": "stub", "area": DOORS[5]})
    again = {"id": "again", "trigger": {"kind": "choose"}, "to": {"kind": "back"}}
    give_up = {"id": "up", "trigger": {"kind": "choose"}, "to": {"level": "title"}}
    begin = {"id": "begin", "trigger": {"kind": "choose"}, "fresh": True, "to": {"level": "l0", "spawn": "by0"}}
    screens = [
        {"id": "title", "kind": "screen", "exits": [begin]},
        {"id": "retry", "kind": "screen", "exits": [again, give_up]},
    ]
    facts = [*({"id": f"key{number}", "kind": "flag", "name": f"Key {number}"} for number in range(3)),
             {"id": "shells", "kind": "count", "high": 9, "name": "Shells"}]  # fmt: skip
    return flow_from_tree({"mossy_bridge": 1, "title": "Made up", "start": {"level": "title"}, "facts": facts,
                           "endings": [{"id": "won"}], "levels": [*screens, *made]})  # fmt: skip


def _door(levels, one, other, lock):
    exits = levels[one]["exits"]
    if len(exits) < len(DOORS):
        spawn = f"by{len(levels[other]['exits']) % len(DOORS)}"
        exits.append({"id": f"to{other}_{len(exits)}", "area": DOORS[len(exits)], "trigger": {"kind": "touch"},
                      "opens": lock, "to": {"level": f"l{other}", "spawn": spawn}})  # fmt: skip


def over_foreign_cards(scene):
    """The bridges that touch a card which they do not join, with that card."""
    return [
        (name, other)
        for name, bridge in scene.bridges.items()
        for other, card in scene.cards.items()
        if other not in (name[0], name[2])
        and bridge.bounds.intersects(card.placed.rect)
        and _touches(bridge.line.points, card.placed.rect, HALF)
    ]


def labels_over_something(scene):
    """Labels that overlap one another or a card."""
    labels = [(name, bridge.route.label) for name, bridge in scene.bridges.items() if bridge.route.label]
    found = [(one, two) for (one, a), (two, b) in combinations(labels, 2) if _overlap(a, b)]
    for name, label in labels:
        found += [(name, other) for other, card in scene.cards.items() if _overlap(label, _edges(card.placed.rect))]
    return found


def under_labels(scene):
    """The bridges seen without being selected that run under a label, their own counted, too."""
    labels = [(name, bridge.route.label) for name, bridge in scene.bridges.items() if bridge.route.label]
    return [
        (name, other)
        for name, label in labels
        for other, bridge in scene.bridges.items()
        if not bridge.hidden_away
        and _overlap(label, _edges(bridge.bounds))
        and _touches_box(bridge.line.points, label, HALF)
    ]


def crossings_of_bridges(scene):
    """How often bridges cross one another between cards, those that depend left out."""
    lines = [
        bridge.route.points[bridge.route.from_inside : len(bridge.route.points) - bridge.route.to_inside]
        for bridge in scene.bridges.values()
        if not bridge.quiet and bridge.crossing.kind != "broken"
    ]
    return crossings_of_lines(lines)


def crossings_of_lines(lines):
    """How often lines, given by their points, cross."""
    found = 0
    for one, other in combinations(lines, 2):
        for a, b in pairwise(one):
            for c, d in pairwise(other):
                found += _cross(a, b, c, d)
    return found


def _cross(a, b, c, d):
    return _side(a, b, c) * _side(a, b, d) < 0 and _side(c, d, a) * _side(c, d, b) < 0


def _side(a, b, c):
    value = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
    return (value > 1e-9) - (value < -1e-9)


def _edges(rect):
    return rect.left(), rect.top(), rect.right(), rect.bottom()


def _overlap(one, other):
    return one[0] < other[2] and other[0] < one[2] and one[1] < other[3] and other[1] < one[3]


def _touches(points, rect, reach):
    return _touches_box(points, _edges(rect), reach)


def _touches_box(points, box, reach):
    """Whether a line as wide as a bridge touches a rectangle: its stretches are level or upright but for corners, which
    are short."""
    left, top, right, bottom = box
    grown = (left - reach, top - reach, right + reach, bottom + reach)
    return any(
        _overlap((min(a, c), min(b, d), max(a, c) + 1e-9, max(b, d) + 1e-9), grown)
        for (a, b), (c, d) in pairwise(points)
    )
