"""Random edits of a flow's tree, for tests that compare versions and bring them together."""

import copy

from mossy_bridge.exchange.reading import CannotRead, flow_from_tree
from mossy_bridge.exchange.writing import tree_of

LISTS = ("regions", "endings", "facts", "transitions", "promises", "walks")
INNER = ("spawns", "deeds", "exits", "zones", "tiles")


def tree(flow):
    return tree_of(flow)


def edited(before, pick, steps):
    """A tree after some random edits, each of which leaves a flow that can be read."""
    now = copy.deepcopy(before)
    for _ in range(steps):
        tried = copy.deepcopy(now)
        pick.choice(EDITS)(tried, pick)
        try:
            now = tree_of(flow_from_tree(tried))
        except CannotRead:
            continue
    return now


def _lists(tree, pick):
    """A list of things with ids, and what holds it."""
    if tree.get("levels") and pick.random() < 0.7:
        level = pick.choice(tree["levels"])
        name = pick.choice(INNER)
        if pick.random() < 0.5 or not level.get(name):
            return tree["levels"], "level"
        return level[name], name
    name = pick.choice(LISTS)
    return tree.setdefault(name, []), name


def _remove(tree, pick):
    things, _ = _lists(tree, pick)
    if things:
        things.remove(pick.choice(things))


def _copy(tree, pick):
    things, _ = _lists(tree, pick)
    if things:
        one = copy.deepcopy(pick.choice(things))
        one["id"] = f"{one['id'][:20]}_{pick.randrange(30)}"
        things.insert(pick.randrange(len(things) + 1), one)


def _move(tree, pick):
    things, _ = _lists(tree, pick)
    if len(things) > 1:
        one = things.pop(pick.randrange(len(things)))
        things.insert(pick.randrange(len(things) + 1), one)


def _rename(tree, pick):
    things, _ = _lists(tree, pick)
    if things:
        pick.choice(things)["name"] = pick.choice(["", "Fen", "Weir", "Lamp", "Reed bank"])


def _field(tree, pick):
    field, values = pick.choice([("title", ["Marsh", "Fen"]), ("progress", ["run", "profile"]), ("saving", ["arrival", "never"]),
                                 ("start", [{"level": "la"}, {}]), ("walker", [{"width": 1.5}, {"height": 2}])])  # fmt: skip
    tree[field] = pick.choice(values)


def _level(tree, pick):
    if tree.get("levels"):
        level = pick.choice(tree["levels"])
        field, values = pick.choice([("minutes", [1, 2, 5]), ("ships", [True, False]), ("opens", ["always", "never"]),
                                     ("notes", ["wet", ""]), ("plan", [{"width": 9, "height": 4}, {"width": 12, "height": 4}]),
                                     ("difficulty", [1, 3])])  # fmt: skip
        level[field] = pick.choice(values)


def _lead(tree, pick):
    exits = [exit_ for level in tree.get("levels", ()) for exit_ in level.get("exits", ())]
    if exits:
        exit_ = pick.choice(exits)
        where = pick.choice(tree["levels"])["id"]
        exit_["to"] = pick.choice([{"kind": "next"}, {"level": where}, {"kind": "again"}, {"kind": "back"}])


EDITS = (_remove, _copy, _copy, _move, _rename, _field, _level, _level, _lead, _lead)
