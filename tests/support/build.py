"""Small flows for tests, written briefly."""

from mossy_bridge.exchange.reading import flow_from_tree
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.replay import final_state, play
from mossy_bridge.play.rules import Rules


def flow(*levels, **fields) -> Flow:
    """A flow that starts at its first level, has an ending “won”, and the facts named briefly:
    ``facts=("key", "oil:3", "tide=ebb,flood")``."""
    tree = {"mossy_bridge": 1, "endings": [{"id": "won"}], "levels": list(levels)}
    tree["start"] = {"level": levels[0]["id"]} if levels else {}
    tree.update(fields)
    tree["facts"] = [fact(text) if isinstance(text, str) else text for text in fields.get("facts", ())]
    return flow_from_tree(tree)


def fact(text, /, **more):
    """A fact written briefly."""
    if "=" in text:
        name, _, values = text.partition("=")
        return {"id": name, "kind": "choice", "values": values.split(","), **more}
    name, _, high = text.partition(":")
    return {"id": name, "kind": "count", "high": int(high), **more} if high else {"id": name, "kind": "flag", **more}


def play_level(name, /, *exits, **fields):
    """A play level with a spawn point “p”."""
    return {"id": name, "spawns": [{"id": "p"}], "exits": list(exits), **fields}


def screen(name, /, *exits, **fields):
    """A screen."""
    return {"id": name, "kind": "screen", "exits": list(exits), **fields}


def board(name, /, *tiles, **fields):
    """A board."""
    return {"id": name, "kind": "board", "tiles": list(tiles), **fields}


def way(name, /, to=None, spawn="", **fields):
    """An exit that the player chooses, to a level; or wherever ``to`` says; or to nowhere."""
    if isinstance(to, str):
        to = {"kind": "end", "ending": "won"} if to == "won" else {"level": to, "spawn": spawn}
    trigger = {"kind": "choose", **fields.pop("trigger", {})}
    return {"id": name, "trigger": trigger, "to": to, **fields}


def deed(name, /, *effects, **fields):
    """A deed."""
    return {"id": name, "effects": list(effects), **fields}


def state_after(flow_, *moves, resuming=False):
    """The state after the moves, which must all be possible."""
    rules = Rules(flow_, resuming)
    for taken in play(rules, moves):
        if taken.after is None:
            raise AssertionError(f"{taken.move}: {taken.problem}")
    return final_state(rules, moves)


def moves_after(flow_, *moves, resuming=False):
    """The texts of the moves possible after these."""
    state = state_after(flow_, *moves, resuming=resuming)
    return [str(move) for move, _ in Rules(flow_, resuming).moves(state)]


def value_of(flow_, state, name):
    """What a fact is in a state."""
    return state.facts[[f.id for f in flow_.facts].index(name)]
