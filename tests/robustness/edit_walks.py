"""Walks of random edits through the window's own requests, with undo and redo.

Every public request is called with values as a designer might give them: names that exist or do not, numbers in and out
of bounds, texts of all kinds. After each step the file that would be written is canonical and reads back the same; what
is undone is as it was, and what is redone as it had become.

Run: python -m tests.robustness.edit_walks [WALKS] [STEPS] [FIRST SEED]
"""

import inspect
import sys
import traceback
from random import Random

from msgspec.structs import fields
from PyQt6.QtWidgets import QApplication

from mossy_bridge.checks.runner import inspected
from mossy_bridge.desk.app import make_application
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.exchange.clipboard_json import levels_text, parts_of, things_text
from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.model.edits.levels import whole
from mossy_bridge.model.edits.templates import TEMPLATES
from mossy_bridge.model.flow import (
    ChecklistItem,
    Deed,
    Destination,
    Exit,
    Fact,
    Level,
    Plan,
    Promise,
    Spawn,
    Step,
    Tile,
    Trigger,
    Walk,
)
from mossy_bridge.model.patterns import resolved
from mossy_bridge.plan.arrivals import Arrival, arrivals
from mossy_bridge.plan.laying import Part
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.random_flows import MAKERS

TEXTS = ["", "Slip", "a", "ü ☂", "half \ud800", "\x1b[2J", "two\nlines", "<img src='/dev/zero'>", "n" * 1100, "1-1", "2-3b", "9" * 40,
         "levels/a.map", "../out.map", "²", "has", " x "]  # fmt: skip
NUMBERS = [0, 1, 2, 3.5, -1, 0.1, 12, 64, 1e6, -1e6, 1e7, 1e300, float("nan"), float("inf"), 1e-9]
CONDITIONS = [
    "always",
    "never",
    "has f0",
    "lacks f1",
    "at least 2 n0",
    "c0 is ebb",
    "seen la",
    "has nobody",
    "exactly 1 of (has f0, has f1)",
]
EFFECTS = ["gain f0", "lose f1", "add 1 n0", "set n0 to 2", "turn c0 to flood", "clear f0", "gain nobody"]
OF = {"levels.set": Level, "levels.set_all": Level, "crossings.set": Exit, "crossings.set_all": Exit, "crossings.set_trigger": Trigger,
      "crossings.set_all_triggers": Trigger, "facts.set": Fact, "plans.set_plan": Plan, "transitions.set_step": Step, "boards.set_board": Level, "boards.set_tile": Tile,
      "upkeep.set_item": ChecklistItem, "upkeep.set_promise": Promise, "upkeep.set_walk": Walk}  # fmt: skip
"""The class whose fields a request sets."""
NOT_ALONE = {"plans.edit", "plans.told", "levels.title", "levels.moving", "levels.insert"}
"""Not requests of a designer's, but what they are made of."""


class Walker:
    """Walks one flow."""

    def __init__(self, seed):
        self.pick = Random(seed)
        self.document = Document()
        self.selection = Selection()
        self.requests = Requests(self.document, self.selection)
        self.refusals = []
        self.requests.door.proposed.connect(lambda one: self.requests.door.carry_out(one, self.pick.random() < 0.3))
        self.requests.door.refused.connect(self.refusals.append)
        self.document.changed.connect(lambda: self.selection.tidied(self.document.flow))
        self.document.take(self.pick.choice(MAKERS)(seed))
        self.names = [f"{group}.{name}" for group in ("levels", "crossings", "plans", "upkeep", "facts", "transitions", "boards", "arrivals")
                      for name, _ in inspect.getmembers(getattr(self.requests, group), inspect.ismethod)
                      if not name.startswith("_") and name in vars(type(getattr(self.requests, group)))]  # fmt: skip
        self.names = [name for name in self.names if name not in NOT_ALONE]
        self.done = {}

    def step(self):
        """One request, undo, redo or selection; the name of what was done."""
        pick, document = self.pick, self.document
        chance = pick.random()
        before = document.flow
        if chance < 0.1 and document.undo_name:
            document.undo()
            undone = document.flow
            document.redo()
            assert document.flow is before, "redo leads elsewhere"
            document.undo()
            assert document.flow is undone, "undo leads elsewhere"
            return "undo"
        if chance < 0.16 and document.redo_name:
            document.redo()
            return "redo"
        if chance < 0.3:
            self.select()
            return "select"
        if chance < 0.33:
            return self.repair()
        name = pick.choice(self.names)
        self.call(name)
        if document.flow is not before and document.flow != before:
            self.done[name] = self.done.get(name, 0) + 1
        return name

    def call(self, name):
        if name == "plans.set":
            self.set_part()
            return
        group, _, method = name.partition(".")
        function = getattr(getattr(self.requests, group), method)
        positional, values = [], {}
        for parameter in inspect.signature(function).parameters.values():
            if parameter.kind is parameter.VAR_KEYWORD:
                values = self.values(name)
            elif parameter.default is parameter.empty or self.pick.random() < 0.5:
                positional.append(self.argument(name, parameter.name))
            else:
                break
        function(*positional, **values)

    def set_part(self):
        """Something on a plan, and fields of its kind."""
        group, cls = self.pick.choice([("exits", Exit), ("spawns", Spawn), ("deeds", Deed)])
        level = self.level()
        self.requests.plans.set(level, Part(group, self.thing(group)), "it", **self.fields(cls))

    def repair(self):
        flow = self.document.flow
        found = [finding for finding in inspected(survey_flow(flow, 0.2), flow) if finding.repair]
        if found:
            self.requests.findings.repair(self.pick.choice(found))
        return "repair"

    # -- values ----------------------------------------------------------------------------------------

    def level(self):
        names = [level.id for level in self.document.flow.levels] + [
            f"pattern:{p.id}" for p in self.document.flow.patterns
        ]
        return self.pick.choice([*names, "nowhere"]) if self.pick.random() < 0.95 or not names else ""

    def thing(self, group):
        level = whole(self.document.flow, self.selection.level_id or self.level())
        return self.pick.choice([*(thing.id for thing in getattr(level, group)), "gone"]) if level else "gone"

    def part(self):
        group = self.pick.choice(["exits", "spawns", "deeds", "zones", "tiles", "solids"])
        return Part(group, str(self.pick.randrange(3)) if group == "solids" else self.thing(group))

    def of(self, group):
        return self.pick.choice([*(thing.id for thing in getattr(self.document.flow, group)), "gone"])

    def rect(self):
        return tuple(self.pick.choice(NUMBERS[:12]) for _ in range(4))

    def select(self):
        level = self.level()
        if self.pick.random() < 0.4:
            self.selection.select(level, self.thing("exits"))
        elif self.pick.random() < 0.4:
            self.selection.select_parts(level, [self.part() for _ in range(self.pick.choice([1, 1, 2, 3]))])
        else:
            self.selection.select(level)
        self.selection.tidied(self.document.flow)

    def argument(self, request, name):
        pick, flow = self.pick, self.document.flow
        if request.startswith(("boards.", "arrivals.")) or name in ("template", "rewinds"):
            return self.argument_of_pages(name)
        if name in ("level", "level_id", "after", "before", "one", "other", "target"):
            return self.level()
        if name in ("level_ids",):
            return [self.level() for _ in range(pick.choice([1, 2, 3]))]
        if name == "crossings":
            return [(level.id, exit_.id) for level in flow.levels for exit_ in level.exits if pick.random() < 0.3]
        if name in ("exit_",):
            return self.thing("exits")
        if name in ("spawn", "zone"):
            return self.thing(f"{name}s")
        if name == "name" and request.startswith("transitions."):
            return self.of("transitions")
        if name == "transitions":
            return [one for one in flow.transitions if pick.random() < 0.5]
        if name in ("fact", "gone", "kept"):
            return self.of("facts")
        if name in ("region", "pattern", "promise", "walk"):
            return self.of({"region": "regions", "pattern": "patterns", "promise": "promises", "walk": "walks"}[name])
        if name == "item":
            return self.of("checklist")
        if name == "kind":
            kinds = {
                "levels": ["play", "screen", "board"],
                "facts": ["flag", "count", "choice"],
                "transitions": ["load", "fade_out"],
            }
            return pick.choice(kinds[request.partition(".")[0]])
        if name == "to":
            return pick.choice(
                [None, Destination(kind="next"), Destination(level=self.level()), Destination(kind="again")]
            )
        if name in ("depth", "index", "by"):
            return pick.choice([0, 0, 1, -1, 2])
        if name in ("x", "y", "across", "along", "at", "lasts") and not (name == "at" and request.startswith("upkeep")):
            return pick.choice(NUMBERS)
        if name in ("area", "rect"):
            return self.rect()
        if name == "part" and request == "plans.confirm":
            return pick.choice(["", "exit x0", "file"])
        if name == "part":
            return self.part()
        if name == "parts" and request == "plans.paste":
            return self.pasted()
        if name == "parts":
            return [self.part() for _ in range(pick.choice([1, 2]))]
        if name == "edge":
            return pick.choice(["left", "right", "top", "bottom", "centre", "middle"])
        if name == "at":
            return pick.choice(
                [f"levels.{self.level()}.name", "walker.width", f"levels.la.exits.{self.thing('exits')}.opens", "x.y"]
            )
        if name == "value":
            return pick.choice([*TEXTS, *NUMBERS, None, True, {"a": [1]}, 10**30])
        if name in ("on", "first", "known", "alone"):
            return pick.random() < 0.5 if name != "first" or request == "levels.new" else pick.choice(TEXTS)
        if name in ("kinds",):
            return ("play",)
        if name == "minutes" and request == "levels.take_minutes":
            return {self.level(): pick.choice(NUMBERS) for _ in range(pick.choice([1, 2]))}
        if name == "moves":
            return ["exit la.x0", "nonsense"][: pick.randrange(3)]
        if name == "expect":
            return pick.choice(["works", "fails", "ends:e0", "at:la"])
        if name == "files":
            return ["maps/a_1.map", "maps/a_2.map"]
        if name == "renamed":
            return [(level.file, "renamed.map") for level in flow.levels if level.file][:1]
        if name in ("thing", "step"):
            return {"thing": "", "step": "do it"}[name]
        if name == "field":
            return pick.choice(["opens", "exits", "spawns", "plan", "cast"])
        if name == "tint":
            return pick.choice(["", "reed", "clay"])
        return pick.choice(TEXTS)

    def argument_of_pages(self, name):
        """What is asked about boards, arrivals and screens."""
        pick, flow = self.pick, self.document.flow
        boards = [level for level in flow.levels if level.kind == "board"]
        tiles = [*(tile.id for board in boards for tile in board.tiles), "t1", "gone"]
        if name == "arrival":
            found = arrivals(resolved(flow))
            return pick.choice([*found, Arrival("la", "exit", "lb", "x0"), Arrival("nowhere", "start")])
        if name == "board":
            return pick.choice([*(board.id for board in boards), self.level()])
        if name == "levels":
            return [self.level() for _ in range(pick.randrange(4))]
        choices = {
            "template": TEMPLATES, "rewinds": (True, False), "tile": tiles, "other": tiles, "spawn": ["p", "q", "gone"],
            "tiles": [{pick.choice(tiles)}, {pick.choice(tiles), pick.choice(tiles)}, set()],
            "side": ["left", "right", "up", "down", None], "back": (True, False), "at": [None, (0, 0), (2.5, -1)],
            "level": [self.level()],
        }  # fmt: skip
        return pick.choice(choices.get(name, TEXTS))

    def pasted(self):
        flow = self.document.flow
        level = whole(flow, self.level())
        if level is None:
            return parts_of('{"mossy_bridge_parts": 1}')
        text = (
            levels_text(flow, [level.id])
            if self.pick.random() < 0.3
            else things_text(flow, level, [self.part(), self.part()])
        )
        return parts_of(text)

    def values(self, request):
        return self.fields(OF[request])

    def fields(self, cls):
        """Some fields of a class, with values."""
        known = [info for info in fields(cls) if info.name not in ("id", "set_here", "pattern")]
        return {info.name: self.value(cls, info.name) for info in self.pick.sample(known, self.pick.choice([1, 1, 2]))}

    def value(self, cls, name):
        pick = self.pick
        if name in ("opens", "when"):
            return pick.choice(CONDITIONS)
        if name in ("effects", "on_arrival"):
            return tuple(pick.sample(EFFECTS, pick.randrange(3)))
        if name == "to":
            return pick.choice([None, Destination(kind="next"), Destination(level=self.level())])
        if name in ("area",):
            return self.rect()
        if name == "trigger":
            return Trigger(kind=pick.choice(["touch", "auto", "fail"]))
        if name == "plan":
            return pick.choice([None, Plan(width=pick.choice(NUMBERS), height=18, solids=(self.rect(),))])
        if name == "solids":
            return (self.rect(),)
        if name == "initial":
            return pick.choice([None, 0, 1, True, False, "ebb", "flood", "wind"])
        if name == "values":
            return tuple(pick.sample(["ebb", "flood", "low-tide", "or", "1st", "wind"], pick.randrange(4)))
        kinds = {"kind": {Level: ["play", "screen", "board"], Fact: ["flag", "count", "choice"], Trigger: ["touch", "press", "auto", "fail"],
                          Promise: ["can", "never", "within", "always_can"]}.get(cls, ["play"]),
                 "lifetime": ["visit", "run", "profile"], "status": ["planned", "draft", "ready"], "cursor": ["free", "open", "any"],
                 "repeats": ["run", "visit", "always"], "faces": ["left", "up"], "do": ["load", "wait"], "expect": ["works", "at:la"]}  # fmt: skip
        if name in kinds:
            return pick.choice(kinds[name])
        if name in ("zones", "paths", "spawns", "deeds", "exits", "tiles"):
            return getattr(whole(self.document.flow, self.level()) or Level(id="none"), name)
        blank = {info.name: info.default for info in fields(cls) if info.default is not None}.get(name, "")
        if isinstance(blank, bool):
            return pick.random() < 0.5
        if isinstance(blank, int | float):
            return pick.choice(NUMBERS)
        if isinstance(blank, tuple) or name in ("moves", "ticked", "unreviewed", "cast", "by", "avoiding", "kinds"):
            return () if name == "kinds" else tuple(pick.sample(["player", "crab", "la", "x"], pick.randrange(3)))
        return pick.choice([*TEXTS, self.level()])


def walked(seed, steps):
    """Walks; what was done, by request. Raises AssertionError where something is not as promised."""
    walker = Walker(seed)
    for number in range(steps):
        before = walker.document.flow
        what = walker.step()
        flow = walker.document.flow
        if flow is not before:
            written = flow_bytes(flow)
            assert flow_from_bytes(written) == flow, (what, number, "reads back as another flow")
            assert flow_bytes(flow_from_bytes(written)) == written, (what, number, "is not canonical")
    while walker.document.undo_name:
        walker.document.undo()
    assert not walker.document.edited, "undoing everything leaves something"
    return walker.done, len(walker.refusals)


def main(walks=3000, steps=150, first=0):
    """Walks so many, and prints what came of it."""
    app = make_application()
    done, refused, faults = {}, 0, 0
    sys.excepthook = lambda kind, error, _: problems.append(f"{kind.__name__}: {error}")
    problems = []
    for seed in range(first, first + walks):
        try:
            requests, refusals = walked(seed, steps)
        except Exception as error:  # noqa: BLE001 - whatever it is, it is told with its seed
            frame = traceback.extract_tb(error.__traceback__)[-1]
            where = f"{frame.filename.rpartition('mossy_bridge/')[2]}:{frame.lineno}"
            problems.append(f"{type(error).__name__}: {error}"[:300] + f" ({where})")
        else:
            refused += refusals
            for name, times in requests.items():
                done[name] = done.get(name, 0) + times
        for problem in problems:
            print(f"seed {seed}: {problem}", flush=True)
        faults += len(problems)
        problems.clear()
        if seed % 20 == 0:
            QApplication.sendPostedEvents()
    print(f"{walks} walks of {steps} steps: {sum(done.values())} edits by {len(done)} requests, {refused} refused in words, "
          f"{faults} faults")  # fmt: skip
    del app
    return faults


if __name__ == "__main__":
    import os

    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    sys.exit(min(1, main(*map(int, sys.argv[1:]))))
