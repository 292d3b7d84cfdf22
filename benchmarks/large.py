"""Makes large flows for measuring, of several kinds: the same for the same kind, size and seed."""

import random
from collections.abc import Callable, Iterator

from msgspec.structs import replace

from mossy_bridge.exchange.reading import flow_from_tree
from mossy_bridge.exchange.writing import tree_of
from mossy_bridge.model.flow import Flow

Tree = dict[str, object]
LINE = 40
"""Levels of a region."""


def large_flow(levels: int, seed: int = 1) -> Flow:
    """A campaign: three exits a level, on to the next, back, and a branch or a shortcut near by; every third
    branch asks for a key found on the way, of which there are 60 among 1,000 levels and 300 among 10,000. Every level
    has a plan."""
    pick = random.Random(seed)
    count = max(2, round(60 * (levels / 1000) ** 0.7))
    keys = [f"key{i}" for i in range(count)]
    made = [_campaign_level(number, levels, -(-levels // count), pick) for number in range(levels)]
    return _flow(f"{levels} levels", made, keys)


def patterned(levels: int) -> Flow:
    """The same campaign, each level of which is based on one pattern."""
    tree = tree_of(large_flow(levels))
    tree["title"] = f"{levels} patterned"
    tree["patterns"] = [{"id": "bank", "minutes": 5, "notes": "as on the bank"}]
    for level in tree["levels"]:
        level["pattern"] = "bank"
    return flow_from_tree(tree)


def hub(keys: int, locks: int) -> Flow:
    """A hub with a room for each key, free to go to and fro, and locks that each ask for several of the keys;
    behind the last lock is the ending."""
    each = max(1, keys // locks)
    rooms = [
        _level(f"room{i}", [_way("back", "hub")], deeds=[{"id": "find", "effects": [f"gain key{i}"]}])
        for i in range(keys)
    ]
    vaults = [_level(f"vault{i}", [_way("back", "hub"), *([_end()] if i == locks - 1 else [])]) for i in range(locks)]
    doors = [_way(f"room{i}", f"room{i}") for i in range(keys)]
    for i in range(locks):
        asked = " and ".join(f"has key{k}" for k in range(i * each, (i + 1) * each))
        doors.append(_way(f"vault{i}", f"vault{i}", asked))
    return _flow(f"hub of {keys} keys", [_level("hub", doors), *rooms, *vaults], [f"key{i}" for i in range(keys)])


def marsh(levels: int, seed: int = 1) -> Flow:
    """A wide marsh: a grid of levels with doors there and back, some of them locked, and keys lying about."""
    pick = random.Random(seed)
    side = max(2, round(levels**0.5))
    count = max(3, levels // 20)
    found = {pick.randrange(side * side): f"key{i}" for i in range(count)}
    cells = []
    for number in range(side * side):
        ways = _doors(number, side, lambda one, other: _lock(pick, one, other, count))
        deeds = [{"id": "find", "effects": [f"gain {found[number]}"]}] if number in found else []
        ways += [_end()] if number == side * side - 1 else []
        cells.append(_level(f"l{number}", ways, deeds=deeds))
    return _flow(f"marsh of {side * side}", cells, [f"key{i}" for i in range(count)])


def sluices(levels: int, count: int, seed: int = 1) -> Flow:
    """A marsh whose doors are under water or not, as sluices stand that can be turned at will: what is open changes to
    and fro, so that nothing grows but the keys."""
    pick = random.Random(seed)
    side = max(2, round(levels**0.5))
    at = {pick.randrange(side * side): number for number in range(count)}
    cells = []
    for number in range(side * side):
        ways = _doors(number, side, lambda one, other: _water(pick, one, other, count))
        deeds: list[Tree] = []
        if number in at:
            fact = f"dry{at[number]}"
            deeds = [
                {"id": "drain", "when": f"lacks {fact}", "effects": [f"gain {fact}"], "repeats": "always"},
                {"id": "flood", "when": f"has {fact}", "effects": [f"lose {fact}"], "repeats": "always"},
            ]
        ways += [_end()] if number == side * side - 1 else []
        cells.append(_level(f"l{number}", ways, deeds=deeds))
    return _flow(f"marsh of {side * side} with {count} sluices", cells, [f"dry{i}" for i in range(count)])


def _doors(number: int, side: int, opens: Callable[[int, int], str]) -> list[Tree]:
    """The doors of a cell of a grid to those beside it."""
    across, along = number % side, number // side
    near = [(across + 1, along), (across - 1, along), (across, along + 1), (across, along - 1)]
    return [
        _way(f"to{x}_{y}", f"l{y * side + x}", opens(number, y * side + x))
        for x, y in near
        if 0 <= x < side and 0 <= y < side
    ]


def _water(pick: random.Random, one: int, other: int, count: int) -> str:
    sluice = (one + other) % count
    return f"{'has' if sluice % 2 else 'lacks'} dry{sluice}" if pick.random() < 0.12 else "always"


def _lock(pick: random.Random, one: int, other: int, keys: int) -> str:
    return f"has key{(one + other) % keys}" if pick.random() < 0.12 else "always"


def chain(locks: int) -> Flow:
    """A deep chain of locks: each key lies in a side room just before its lock."""
    levels = []
    for i in range(locks):
        onward = _way("on", f"step{i + 1}", f"has key{i}")
        levels.append(
            _level(f"step{i}", [_way("aside", f"side{i}"), onward, *([_way("back", f"step{i - 1}")] if i else [])])
        )
        levels.append(
            _level(f"side{i}", [_way("out", f"step{i}")], deeds=[{"id": "find", "effects": [f"gain key{i}"]}])
        )
    levels.append(_level(f"step{locks}", [_end()]))
    return _flow(f"chain of {locks} locks", levels, [f"key{i}" for i in range(locks)])


def line(levels: int) -> Flow:
    """Levels in a line, none of which leads back, with a coin in each: every coin but the last can be missed."""
    coin = {"id": "coin", "name": "Coin", "effects": ["add 1 coins"]}
    ways = [_way("on", f"l{number + 1}") for number in range(levels - 1)]
    made = [
        {**_level(f"l{number}", [way], deeds=[coin]), "code": f"1-{number + 1}", "name": f"Level {number + 1}"}
        for number, way in enumerate([*ways, _end()])
    ]
    return _flow(f"line of {levels}", made, [{"id": "coins", "kind": "count", "high": 999}])


def spent(keys: int, doors: int) -> Flow:
    """Keys that are spent on doors: each opens one door for good, and which is opened first matters."""
    facts: list[object] = [{"id": "keys", "kind": "count", "high": keys}]
    facts += [{"id": f"open{i}", "kind": "flag"} for i in range(doors)]
    pick = [{"id": f"key{i}", "effects": ["add 1 keys"]} for i in range(keys // 2)]
    unlock = [
        {"id": f"unlock{i}", "when": f"at least 1 keys and lacks open{i}", "repeats": "always",
         "effects": ["take 1 keys", f"gain open{i}"]}
        for i in range(doors)
    ]  # fmt: skip
    rooms = [
        _level(f"room{i}", [_way("back", "hall"), *([_end()] if i == doors - 1 else [])],
               deeds=[{"id": "key", "effects": ["add 1 keys"]}] if i % 4 == 0 and i // 4 < keys - keys // 2 else [])
        for i in range(doors)
    ]  # fmt: skip
    hall = _level("hall", [_way(f"door{i}", f"room{i}", f"has open{i}") for i in range(doors)], deeds=[*pick, *unlock])
    return _flow(f"{keys} keys for {doors} doors", [hall, *rooms], facts)


def switches(count: int) -> Flow:
    """Switches in one level, each to be turned on and off at will: 2 to the power of their count plain states, which
    nothing makes fewer."""
    turn = [
        {"id": f"{word}{i}", "when": f"{asked} lit{i}", "effects": [f"{verb} lit{i}"], "repeats": "always"}
        for i in range(count)
        for word, asked, verb in (("on", "lacks", "gain"), ("off", "has", "lose"))
    ]
    last = f"has lit{count - 1} and lacks lit0"
    room = _level("room", [_way("out", "porch", last)], deeds=turn)
    return _flow(f"{count} switches", [room, _level("porch", [_end()])], [f"lit{i}" for i in range(count)])


def dials(count: int, positions: int) -> Flow:
    """Dials in one level, each to be turned on or back by one: positions to the power of their count plain states."""
    turn = [
        {
            "id": f"{word}{i}_{at}",
            "when": f"dial{i} is p{at}",
            "effects": [f"turn dial{i} to p{to}"],
            "repeats": "always",
        }
        for i in range(count)
        for word, step in (("on", 1), ("back", -1))
        for at in range(positions)
        for to in [at + step]
        if 0 <= to < positions
    ]
    facts: list[object] = [
        {"id": f"dial{i}", "kind": "choice", "values": [f"p{at}" for at in range(positions)]} for i in range(count)
    ]
    opened = " and ".join(f"dial{i} is p{positions - 1}" for i in range(count))
    return _flow(
        f"{count} dials", [_level("room", [_way("out", "porch", opened)], deeds=turn), _level("porch", [_end()])], facts
    )


def boards(levels: int) -> Flow:
    """Boards of ten tiles; each level opens the next tile, the tenth the next board."""
    made: list[Tree] = []
    for number in range(levels):
        board = f"board{number // 10}"
        if number % 10 == 0:
            tiles = [
                {"id": f"t{i}", "col": i, "level": f"l{number + i}", "left": f"t{i - 1}" if i else "",
                 "right": f"t{i + 1}" if i < 9 else ""}
                for i in range(min(10, levels - number))
            ]  # fmt: skip
            made.append({"id": board, "kind": "board", "tiles": tiles, "cursor": "open", "exits": []})
        to = f"board{number // 10 + 1}" if number % 10 == 9 and number + 1 < levels else board
        won = {**_way("won", to), "completes": True}
        opens = f"done l{number - 1}" if number % 10 else "always"
        made.append({**_level(f"l{number}", [won, _way("leave", board)] + ([_end()] if number + 1 == levels else [])),
                     "opens": opens})  # fmt: skip
    return _flow(f"boards of {levels}", made, [])


KINDS: dict[str, Callable[[int], Flow]] = {
    "campaign": large_flow,
    "marsh": marsh,
    "chain": chain,
    "boards": boards,
}
"""Kinds of flow that grow with one number."""


def _flow(title: str, levels: list[Tree], facts: list[object]) -> Flow:
    named = [{"id": fact, "kind": "flag"} if isinstance(fact, str) else fact for fact in facts]
    regions = dict.fromkeys(str(level.get("region", "")) for level in levels)
    return flow_from_tree(
        {
            "mossy_bridge": 1,
            "title": title,
            "start": {"level": levels[0]["id"]},
            "endings": [{"id": "won", "name": "The lamp is lit"}],
            "regions": [{"id": name, "name": f"Region {name[1:]}"} for name in regions if name],
            "facts": named,
            "levels": levels,
        }
    )


def _level(name: str, exits: list[Tree], **more: object) -> Tree:
    return {"id": name, "spawns": [{"id": "p"}], "exits": exits, **more}


def _way(name: str, to: str, opens: str = "always") -> Tree:
    return {"id": name, "trigger": {"kind": "choose"}, "opens": opens, "to": {"level": to}}


def _end() -> Tree:
    return {"id": "end", "trigger": {"kind": "choose"}, "to": {"kind": "end", "ending": "won"}}


def _campaign_level(number: int, levels: int, apart: int, pick: random.Random) -> Tree:
    """``apart``: how many levels lie between one key and the next."""
    near = max(0, min(levels - 1, number + pick.choice((-7, -3, 5, 9, 20))))
    find = [{"id": "find", "x": 20, "y": 10, "effects": [f"gain key{number // apart}"]}]
    asks = f"has key{number // apart}" if number % 3 == 1 else "always"
    return {
        "id": f"l{number}",
        "code": f"{number // LINE + 1}-{number % LINE + 1}",
        "name": f"Level {number % LINE + 1}",
        "region": f"r{number // LINE + 1}",
        "status": "ready",
        "plan": {"width": 40, "height": 12, "solids": [[0, 10, 40, 2], [pick.randrange(18, 30), 8, 5, 2]]},
        "spawns": list(_spawns()),
        "deeds": [] if number % apart else find,
        "exits": [
            _touched("on", [38, 7, 2, 3], _on(number, levels)),
            _touched("back", [0, 7, 2, 3], {"level": f"l{max(0, number - 1)}", "spawn": "east"}),
            {**_touched("stair", [10, 7, 2, 3], {"level": f"l{near}", "spawn": "stair"}, "press"), "opens": asks},
        ],
    }


def _spawns() -> Iterator[Tree]:
    yield {"id": "west", "x": 4, "y": 10}
    yield {"id": "east", "x": 36, "y": 10, "faces": "left"}
    yield {"id": "stair", "x": 14, "y": 10}


def _on(number: int, levels: int) -> dict[str, str]:
    last = number + 1 == levels
    return {"kind": "end", "ending": "won"} if last else {"level": f"l{number + 1}", "spawn": "west"}


def _touched(name: str, area: list[int], to: dict[str, str], trigger: str = "touch") -> Tree:
    return {"id": name, "area": area, "trigger": {"kind": trigger}, "to": to}


def failing(flow: Flow, share: int = 1) -> Flow:
    """The same, where one can fail in every level, and one of so many facts rewinds: a retry screen leads back."""
    fail = flow_from_tree({"mossy_bridge": 1, "levels": [_level("l", [
        {"id": "fail", "trigger": {"kind": "fail"}, "to": {"level": "retry"}}])]}).levels[0].exits  # fmt: skip
    retry = flow_from_tree({"mossy_bridge": 1, "levels": [{"id": "retry", "kind": "screen", "exits": [
        {"id": "back", "trigger": {"kind": "choose"}, "to": {"kind": "back"}}]}]}).levels  # fmt: skip
    levels = tuple(replace(level, exits=(*level.exits, *fail)) for level in flow.levels)
    facts = tuple(replace(fact, rewinds=at % share == 0) for at, fact in enumerate(flow.facts))
    return replace(flow, title=f"{flow.title}, failing", levels=(*levels, *retry), facts=facts)
