"""Random small flows that use every feature of the rules of play."""

from hypothesis import strategies as st

from mossy_bridge.exchange.reading import flow_from_tree

LEVELS = ["la", "lb", "lc", "ld"]
SPAWNS = ["p", "q"]
ZONES = ["low", "high"]
FLAGS, COUNTS, CHOICES = ["f0", "f1"], ["n0"], ["c0"]


def _mostly(common, *rare):
    """The common value five times in six."""
    return st.sampled_from([*([common] * (5 * len(rare))), *rare]) if rare else st.just(common)


@st.composite
def _atom(draw):
    kind = draw(st.sampled_from(["flag", "flag", "count", "choice", "visited", "unknown"]))
    if kind == "flag":
        return f"{draw(st.sampled_from(['has', 'lacks']))} {draw(st.sampled_from(FLAGS))}"
    if kind == "count":
        return f"{draw(st.sampled_from(['at least', 'at most', 'exactly']))} {draw(st.integers(0, 2))} n0"
    if kind == "choice":
        return f"c0 {draw(st.sampled_from(['is', 'is not']))} {draw(st.sampled_from(['ebb', 'flood']))}"
    if kind == "visited":
        return f"{draw(st.sampled_from(['seen', 'done']))} {draw(st.sampled_from(LEVELS))}"
    return draw(st.sampled_from(["has nobody", "has n0", "c0 is spring", "seen nowhere", "never"]))


@st.composite
def condition(draw, chance=3):
    if draw(st.integers(0, chance)):
        return "always"
    one = draw(_atom())
    form = draw(st.integers(0, 6))
    if form == 0:
        return f"not ({one} and {draw(_atom())})"
    if form == 1:
        return f"{one} or {draw(_atom())}"
    if form == 2:
        return f"at least 1 of ({one}, {draw(_atom())})"
    return one


def effects(most=2):
    known = [
        "gain f0", "gain f1", "lose f0", "lose f1", "add 1 n0", "take 1 n0", "set n0 to 1", "raise n0 to 2",
        "lower n0 to 0", "turn c0 to flood", "turn c0 to ebb", "clear c0", "clear f1", "clear n0",
        "gain nobody", "add 1 f0", "turn c0 to spring",
    ]  # fmt: skip
    return st.lists(st.sampled_from(known), max_size=most)


@st.composite
def destination(draw, deep=2):
    kind = draw(st.sampled_from(["level"] * 6 + ["end"] * 2 + ["next", "previous", "again", "back", "resume"]))
    to = {"kind": kind}
    if kind == "level":
        to["level"] = draw(_mostly(draw(st.sampled_from(LEVELS)), "nowhere"))
        to["spawn"] = draw(st.sampled_from(["", "", "p", "q", "gone"]))
    elif kind == "end":
        to["ending"] = draw(_mostly("e0", "e1", "gone"))
    if kind in ("next", "previous", "back", "resume") and deep and draw(st.booleans()):
        to["otherwise"] = draw(destination(deep - 1))
    return to


@st.composite
def exit_(draw, name):
    kinds = ["touch", "touch", "press", "choose", "choose", "timer", "fail", "auto"]
    return {
        "id": name,
        "area": [draw(st.sampled_from([0, 4, 8])), 0, 2, 4],
        "zone": draw(_mostly("", "low", "high", "gone")),
        "trigger": {
            "kind": draw(st.sampled_from(kinds)),
            "by": draw(_mostly(["player"], ["crab"])),
            "when": draw(condition(4)),
            "armed_on_arrival": draw(st.booleans()),
        },
        "opens": draw(condition(4)),
        "completes": draw(st.booleans()),
        "fresh": draw(_mostly(False, True)),
        "effects": draw(effects()),
        "to": draw(st.one_of(destination(), destination(), destination(), st.none())),
    }


@st.composite
def deed(draw, name):
    return {
        "id": name,
        "zone": draw(_mostly("", "low", "gone")),
        "when": draw(condition(3)),
        "effects": draw(effects()),
        "repeats": draw(st.sampled_from(["run", "run", "visit", "always"])),
        "checkpoint": draw(_mostly("", "q", "gone")),
        "saves": draw(st.booleans()),
    }


@st.composite
def level(draw, name):
    kind = draw(st.sampled_from(["play", "play", "play", "screen", "board"]))
    zones = draw(st.sampled_from([[], [], ["low"], ZONES]))
    spawns = draw(st.sampled_from([["p"], ["p", "q"], ["p", "q"], []]))
    paths = []
    if zones and draw(st.booleans()):
        for start, end in draw(st.sampled_from([[("low", "high")], [("low", "high"), ("high", "low")]])):
            paths.append({"from": start, "to": end, "both_ways": draw(st.booleans()), "when": draw(condition(2))})
    tiles = []
    if kind == "board":
        for number in range(draw(st.integers(0, 3))):
            tiles.append(
                {
                    "id": f"t{number}",
                    "level": draw(_mostly(draw(st.sampled_from(LEVELS)), "nowhere")),
                    "spawn": draw(_mostly("", "q")),
                    "right": draw(st.sampled_from(["", "t0", "t1", "t2", "gone"])),
                    "down": draw(st.sampled_from(["", "t1", "t2"])),
                }
            )
    return {
        "id": name,
        "kind": kind,
        "ships": draw(_mostly(True, False)),
        "opens": draw(condition(4)),
        "zones": [{"id": zone} for zone in zones],
        "paths": paths,
        "on_arrival": draw(effects(1)),
        "spawns": [
            {"id": spawn, "x": draw(st.sampled_from([1, 5, 20])), "y": 4, "zone": draw(_mostly("", "high", "x"))}
            for spawn in spawns
        ],
        "deeds": [draw(deed(f"d{n}")) for n in range(draw(st.integers(0, 2)))],
        "exits": [draw(exit_(f"x{n}")) for n in range(draw(st.integers(0, 3)))],
        "tiles": tiles,
        "first_tile": draw(st.sampled_from(["", "t1"])),
        "cursor": draw(st.sampled_from(["free", "open", "any"])),
    }


@st.composite
def promise(draw, name):
    return {
        "id": name,
        "kind": draw(st.sampled_from(["can", "never", "always_can", "within"])),
        "level": draw(st.sampled_from(["", *LEVELS, "nowhere"])),
        "ending": draw(st.sampled_from(["", "e0", "gone"])),
        "when": draw(condition(1)),
        "avoiding": draw(st.lists(st.sampled_from(LEVELS), max_size=1)),
        "crossings": draw(st.integers(0, 3)),
    }


@st.composite
def flows(draw):
    """A flow of up to four levels."""
    lifetimes = st.sampled_from(["visit", "run", "run", "profile"])
    names = LEVELS[: draw(st.integers(1, 4))]
    return flow_from_tree(
        {
            "mossy_bridge": 1,
            "start": {"level": draw(_mostly("la", "lb")), "spawn": draw(_mostly("", "q"))},
            "progress": draw(st.sampled_from(["run", "profile"])),
            "saving": draw(st.sampled_from(["arrival", "deed", "never"])),
            "units": {"y": draw(st.sampled_from(["down", "up"]))},
            "actors": ["player", "crab"],
            "endings": [{"id": "e0"}, {"id": "e1"}],
            "facts": [
                *({"id": name, "kind": "flag", "lifetime": draw(lifetimes)} for name in FLAGS),
                {"id": "n0", "kind": "count", "high": 2, "lifetime": draw(lifetimes)},
                {"id": "c0", "kind": "choice", "values": ["ebb", "flood"], "lifetime": draw(lifetimes)},
            ],
            "levels": [draw(level(name)) for name in names],
            "promises": [draw(promise(f"v{n}")) for n in range(draw(st.integers(0, 2)))],
        }
    )
