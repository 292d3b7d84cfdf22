"""Random flows with plans, doors, transitions and files in which some things are wrong, for trying repairs."""

import random

from mossy_bridge.exchange.reading import flow_from_tree

NAMES = ("Slipway", "Bell Sands", "Eel Sluice", "Net Loft", "Gull Stair", "Pan Row", "Rope Walk", "Fog Horn")


def sound_tree(seed):
    """A line of levels with plans, joined there and back by doors, from a title to an ending; sound but for hints."""
    pick = random.Random(seed)
    side = pick.random() < 0.7
    count = pick.randrange(3, 7)
    levels = [_title()]
    for number in range(count):
        levels.append(_level(pick, number, count, side))
    if seed % 4 == 1:
        levels[0]["exits"].append({"id": "chart", "trigger": {"kind": "choose"}, "to": {"level": "chart"}})
        levels.append(_chart(count))
    failing = seed % 3 == 0
    for level in levels[1 : count + 1] if failing else ():
        drown = {"id": "drown", "name": "Drown", "trigger": {"kind": "fail"}, "to": {"kind": "again"}}
        level["exits"].append(drown)
    return {
        "mossy_bridge": 1,
        "title": f"Faulty {seed}",
        "start": {"level": "title"},
        "walker": {"view": "side" if side else "top", "speed": pick.choice([4, 6, 9])},
        "actors": ["player", "crab"],
        "regions": [{"id": "shore", "name": "The Shore"}],
        "endings": [{"id": "lit", "name": "Lit"}] if pick.random() < 0.9 else [],
        "facts": [{"id": "key", "kind": "flag", "rewinds": failing}, {"id": "oil", "kind": "count"}],
        "transitions": [_fade("fade"), _fade("cut")],
        "levels": levels,
        "checklist": [],
        "promises": [],
    }


def _title():
    to = {"level": "l0", "spawn": "west"}
    return {"id": "title", "name": "Title", "kind": "screen",
            "exits": [{"id": "begin", "name": "Begin", "trigger": {"kind": "choose"}, "to": to, "fresh": True}]}  # fmt: skip


def _level(pick, number, count, side):
    width, floor = pick.randrange(24, 60), 16
    solids = [[0, floor, width, 2], *([pick.randrange(10, 14), 13, 4, 1] for _ in range(pick.randrange(2)))]
    level = {
        "id": f"l{number}", "name": NAMES[number], "code": f"1-{number + 1}", "region": "shore", "status": "ready",
        "plan": {"width": width, "height": 18, "solids": solids if side else []},
        "spawns": [{"id": "west", "name": "West", "x": 5, "y": floor},
                   {"id": "east", "name": "East", "x": width - 5, "y": floor, "faces": "left"}],
        "exits": [],
        "deeds": [{"id": "pick", "name": "Pick up", "x": width / 2, "y": floor, "effects": ["gain key"]}],
    }  # fmt: skip
    tall = [12, 4] if side else [12, 3]
    on = {"level": f"l{number + 1}", "spawn": "west"} if number + 1 < count else {"kind": "end", "ending": "lit"}
    level["exits"].append({"id": "on", "name": "East gate", "area": [width - 2, tall[0], 2, tall[1]], "to": on,
                           "completes": True, "transition": pick.choice(["", "fade", "cut"])})  # fmt: skip
    if number:
        back = {"level": f"l{number - 1}", "spawn": "east"}
        level["exits"].append({"id": "back", "name": "West gate", "area": [0, tall[0], 2, tall[1]], "to": back})
    return level


def _chart(count):
    """A board with a tile for each level, in a row."""
    tiles = [
        {"id": f"t{at}", "col": at, "level": f"l{at}", "spawn": "west", "left": f"t{at - 1}" if at else "",
         "right": f"t{at + 1}" if at + 1 < count else ""}
        for at in range(count)
    ]  # fmt: skip
    back = {"kind": "back", "otherwise": {"level": "title"}}
    return {"id": "chart", "name": "Chart", "kind": "board", "tiles": tiles, "cursor": "any", "status": "ready",
            "exits": [{"id": "back", "name": "Fold", "trigger": {"kind": "choose"}, "to": back}]}  # fmt: skip


def _fade(name):
    return {"id": name, "name": name.capitalize(), "steps": [
        {"do": "hold_player", "at": 0, "lasts": 2}, {"do": "fade_out", "at": 0, "lasts": 0.5},
        {"do": "load", "at": 0.6, "lasts": 0.5}, {"do": "fade_in", "at": 1.2, "lasts": 0.8},
    ]}  # fmt: skip


def faulty_flow(seed):
    """A sound flow with one to four faults."""
    pick = random.Random(seed * 7919)
    tree = sound_tree(seed)
    for _ in range(pick.randrange(1, 5)):
        pick.choice(FAULTS)(pick, tree)
    return flow_from_tree(tree)


def sound_flow(seed):
    """A flow without faults."""
    tree = sound_tree(seed)
    tree["endings"] = [{"id": "lit", "name": "Lit"}]
    return flow_from_tree(tree)


def _play(pick, tree):
    return pick.choice([level for level in tree["levels"][1:] if "plan" in level or "spawns" in level])


def _exit(pick, tree):
    return pick.choice(_play(pick, tree)["exits"] or [{}])


def _reshape(pick, tree):
    area = _exit(pick, tree).get("area")
    if area:
        at = pick.randrange(4)
        area[at] = pick.choice([0, 0.05, 0.5, 1, 5, 9, 14, 16, 30, 70])


def _trigger(pick, tree):
    exit_ = _exit(pick, tree)
    kind = pick.choice(["touch", "press", "auto", "timer", "choose", "fail"])
    exit_["trigger"] = {"kind": kind, "by": pick.choice([["player"], ["player", "crab"], ["crab"], ["whale"]])}


def _lead(pick, tree):
    names = [level["id"] for level in tree["levels"]]
    exit_ = _exit(pick, tree)
    exit_["to"] = pick.choice([
        None, {}, {"level": "nowhere"}, {"kind": "next"}, {"kind": "previous"}, {"kind": "again"}, {"kind": "back"},
        {"kind": "end", "ending": "dark"}, {"kind": "end", "ending": "lit"}, {"level": pick.choice(names)},
        {"level": pick.choice(names), "spawn": pick.choice(["west", "east", "weest", "roof"])},
    ])  # fmt: skip


def _move_spawn(pick, tree):
    spawns = _play(pick, tree)["spawns"]
    if spawns:
        pick.choice(spawns).update(x=pick.choice([0, 1, 3, 12, 20, 90]), y=pick.choice([0, 2, 10, 14, 16, 17, 40]))


def _drop(pick, tree):
    level = _play(pick, tree)
    what = pick.choice(["spawns", "exits", "deeds", "plan", "region"])
    level.pop(what, None)
    for part in ("spawns", "exits", "deeds"):
        level.setdefault(part, [])


def _rewind(pick, tree):
    fact = pick.choice(tree["facts"])
    fact["rewinds"] = True
    if pick.random() < 0.5:
        asks = {"flag": f"has {fact['id']}", "count": f"at least 1 {fact['id']}"}[fact["kind"]]
        _exit(pick, tree)["opens"] = asks
    if pick.random() < 0.5:
        exit_ = _exit(pick, tree)
        exit_["effects"] = [f"lose {fact['id']}" if fact["kind"] == "flag" else f"take 1 {fact['id']}"]


def _board(pick, tree):
    for level in tree["levels"]:
        if level.get("kind") == "board":
            tile = pick.choice(level["tiles"] or [{}])
            kind = pick.randrange(6)
            if kind == 0:
                tile["level"] = pick.choice(["", "nowhere", "l0"])
            elif kind == 1:
                tile[pick.choice(["left", "right", "up", "down"])] = pick.choice(["", "t0", "t1", "t2", "gone"])
            elif kind == 2:
                tile.update(col=pick.randrange(4), row=pick.randrange(3))
            elif kind == 3:
                level["exits"] = []
            elif kind == 4:
                level["tiles"] = [other for other in level["tiles"] if other is not tile]
            else:
                level["cursor"] = pick.choice(["free", "open", "any"])


def _wall(pick, tree):
    plan = _play(pick, tree).get("plan")
    if plan:
        plan["solids"].append([pick.randrange(0, 50), pick.choice([0, 4, 10, 12]), pick.choice([1, 3, 8]),
                               pick.choice([2, 6, 16])])  # fmt: skip


def _steps(pick, tree):
    steps = pick.choice(tree["transitions"])["steps"]
    kind = pick.randrange(4)
    if kind == 0 and steps:
        steps.remove(pick.choice(steps))
    elif kind == 1 and steps:
        pick.choice(steps).update(at=pick.choice([0, 0.3, 1, 3]), lasts=pick.choice([0, 0.1, 1, 4, 9]))
    elif kind == 2:
        steps.append(
            {"do": "show_message", "at": pick.choice([0, 1, 2.5]), "lasts": 0.5, "text": "The tide is turning"}
        )
    else:
        steps.clear()


def _words(pick, tree):
    level = _play(pick, tree)
    level["opens"] = pick.choice(["has key", "has kee", "seen l1", "never", "at least 3 oil", "always"])
    if level["exits"]:
        exit_ = pick.choice(level["exits"])
        exit_["effects"] = [pick.choice(["gain key", "gain kee", "add 1 oil"])]
        exit_["transition"] = pick.choice(["", "fade", "fadde", "cut"])
    for deed in level["deeds"]:
        deed.update(checkpoint=pick.choice(["", "west", "roof"]), zone=pick.choice(["", "cellar"]))


def _sequence(pick, tree):
    level = _play(pick, tree)
    level.update(pick.choice([
        {"ships": False}, {"status": "planned"}, {"code": "1-1"}, {"name": NAMES[0]}, {"region": "mill"},
        {"code": "1-9"}, {"cast": ["crab", "whale"]}, {"kind": "screen"}, {"unreviewed": ["exit on", "exit gone"]},
    ]))  # fmt: skip


def _upkeep(_pick, tree):
    tree["walks"] = [{"id": "w", "name": "Walk", "moves": ["exit title.begin", "exit l0.on", "exit l1.gone"]}]
    tree["waivers"] = [{"check": "stuck", "at": "l0", "why": "so"}]


def _walker(pick, tree):
    tree["walker"].update(
        pick.choice([{"speed": 200}, {"speed": 400}, {"jump_height": 6}, {"height": 3}, {"width": 3}])
    )


def _hang(pick, tree):
    """A door that hangs in the air, or is no higher than a step."""
    area = _exit(pick, tree).get("area")
    if area:
        area[1], area[3] = pick.choice([(9, 3), (11, 3), (15, 1), (14, 2)])


FAULTS = (_board, _board, _rewind, _walker, _hang, _reshape, _reshape, _trigger, _lead, _lead, _move_spawn, _drop, _wall, _steps, _steps, _words, _sequence,
          _upkeep)  # fmt: skip
