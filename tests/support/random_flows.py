"""Random small flows that use every feature of the rules of play.

Each is made from a seed by a plain random generator: drawn choice by choice, hypothesis makes nearly all flows so
plain that they have one state or none.
"""

from random import Random

from hypothesis import strategies as st

from mossy_bridge.exchange.reading import flow_from_tree

LEVELS = ["la", "lb", "lc", "ld", "le"]
EFFECTS = [
    "gain f0", "gain f0", "gain f1", "gain f1", "lose f0", "lose f1", "add 1 n0", "add 1 n0", "take 1 n0", "set n0 to 1",
    "raise n0 to 2", "lower n0 to 0", "turn c0 to flood", "turn c0 to ebb", "clear c0", "clear f1", "clear n0",
    "gain nobody", "set nobody to 1", "clear nobody", "add 1 f0", "turn c0 to spring",
]  # fmt: skip


class _Maker:
    """Makes the parts of one flow."""

    def __init__(
        self, seed, growing=False, gathering=False, roaming=False, tangled=False, rewinding=False, dropping=False
    ):
        self.rng = Random(seed)
        self.rewinding = rewinding
        """Whether most facts rewind, one can fail everywhere, and keys are spent."""
        self.dropping = dropping
        """Whether there is mostly no way back from one level to the one before."""
        self.growing = growing
        """Whether conditions mostly ask for things, and effects mostly give them."""
        self.gathering = gathering
        """Whether nothing but deeds done once adds to the count, as where so many of some things are to be found."""
        self.roaming = roaming
        """Whether most levels are joined to the next there and back."""
        self.tangled = tangled
        """Whether conditions count other conditions, which no few sets of bits can tell, and levels follow one another
        with screens between them from which new runs begin."""
        self.names = LEVELS[: self.rng.choice([2, 3, 3, 4, 4, 5])]

    def chance(self, portion):
        return self.rng.random() < portion

    def rarely(self, common, *rare, portion=0.1):
        """The common value, but sometimes one of the others."""
        return self.rng.choice(rare) if self.chance(portion) else common

    def some(self, options, most):
        return [self.rng.choice(options) for _ in range(self.rng.randint(0, most))]

    def atom(self):
        rng = self.rng
        if self.growing and self.chance(0.93):
            more = f"at least {rng.randint(1, 4 if self.gathering else 2)} n0"
            return rng.choice(["has f0", "has f1", more, more, f"seen {rng.choice(self.names)}",
                               f"done {rng.choice(self.names)}"])  # fmt: skip
        kind = self.rarely(rng.choice(["flag", "flag", "count", "choice", "visited"]), "unknown", portion=0.06)
        if kind == "flag":
            return f"{rng.choice(['has', 'has', 'lacks'])} {rng.choice(['f0', 'f1'])}"
        if kind == "count":
            return f"{rng.choice(['at least', 'at most', 'exactly'])} {rng.randint(0, 2)} n0"
        if kind == "choice":
            return f"c0 {rng.choice(['is', 'is not'])} {rng.choice(['ebb', 'flood'])}"
        if kind == "visited":
            return f"{rng.choice(['seen', 'done'])} {rng.choice(self.names)}"
        return rng.choice(["has nobody", "at least 1 nobody", "has n0", "c0 is spring", "seen nowhere", "never"])

    def condition(self, portion):
        """always, or with the given chance something that asks."""
        if not self.chance(portion):
            return "always"
        if self.chance(0.5 if self.tangled else 0.08):
            return self.counting()
        one, other = self.atom(), self.atom()
        forms = [
            f"{one} or {other}" if self.growing else f"not ({one} and {other})",
            f"{one} or {other}",
            f"{one} and {other}",
            f"at least 1 of ({one}, {other})",
        ]
        return self.rng.choice([one, one, one, *forms])

    def counting(self, deep=1):
        """A condition that counts others: what it asks for is told by no few sets of bits."""
        parts = [
            self.counting(deep - 1)
            if deep and self.chance(0.2)
            else f"{self.atom()} {self.rng.choice(['and', 'or'])} {self.atom()}"
            if self.chance(0.2)
            else self.atom()
            for _ in range(self.rng.choice([2, 2, 3, 3, 4]))
        ]
        bound = self.rng.choice(["exactly", "exactly", "at most", "at least"])
        whole = f"{bound} {self.rng.randint(0, len(parts))} of ({', '.join(parts)})"
        return self.rarely(
            whole, f"not {whole}", f"{whole} and {self.atom()}", f"{whole} or {self.atom()}", portion=0.3
        )

    def effects(self, most):
        if self.gathering:
            return self.some(["gain f0", "gain f1"], most)
        giving = self.growing and self.chance(0.97)
        return self.some(["gain f0", "gain f1", "add 1 n0"] if giving else EFFECTS, most)

    def destination(self, deep=2):
        kinds = ["level"] * 8 + ["end", "end", "next", "next", "previous", "again", "back", "back", "resume"]
        if self.tangled:
            kinds += ["next"] * 4
        to = {"kind": self.rng.choice(kinds)}
        if to["kind"] == "level":
            to["level"] = self.rarely(self.rng.choice(self.names), "nowhere", portion=0.03)
            to["spawn"] = self.rarely(self.rng.choice(["", "", "p"]), "q", "gone", portion=0.15)
        elif to["kind"] == "end":
            to["ending"] = self.rarely("e0", "e1", "gone")
        if to["kind"] in ("next", "previous", "back", "resume") and deep and self.chance(0.5):
            to["otherwise"] = self.destination(deep - 1)
        return to

    def exit(self, name):
        kinds = ["touch", "touch", "press", "press", "choose", "choose", "choose", "timer", "fail", "auto"]
        kind = self.rng.choice(kinds[2:9] if self.roaming else kinds)
        return {
            "id": name,
            "area": [self.rng.choice([0, 4, 8, 12]), 0, 2, 4],
            "zone": self.rarely("", "low", "high", "gone", portion=0.15),
            "trigger": {
                "kind": kind,
                "by": self.rarely(["player"], ["crab"]),
                "when": self.condition(0.8 if kind == "auto" else 0.15),
                "armed_on_arrival": self.chance(0.35),
            },
            "opens": self.condition(0.25),
            "completes": self.chance(0.5),
            "fresh": self.chance(0.08),
            "effects": self.effects(2 if self.tangled else 1),
            "to": None if self.chance(0.03) else self.destination(),
        }

    def roads(self, name):
        """Ways to the levels beside a level: such that ask for nothing, a chain, or a drop."""
        at = self.names.index(name)
        if self.dropping:
            return self.drop(at)
        if self.tangled:
            return self.chain(at)
        beside = [other for other in (at - 1, at + 1) if self.roaming and 0 <= other < len(self.names)]
        return [
            {"id": f"r{other}", "trigger": {"kind": "choose"}, "to": {"level": self.names[other]}}
            for other in beside
            if self.chance(0.85)
        ]

    def drop(self, at):
        """The way on to the level behind, or from the last one into an ending."""
        last = at == len(self.names) - 1
        on = {"kind": "end", "ending": "e0"} if last else {"level": self.names[at + 1], "spawn": self.rarely("", "q")}
        keys = self.rng.choice(["has f0", "has f1", "at least 1 n0", "at least 2 n0", "has f0 and has f1"])
        opens = keys if last else self.condition(0.15)
        return [{"id": "r0", "trigger": {"kind": "choose"}, "opens": opens, "to": on}]

    def chain(self, at):
        """The way on to the level behind, or from the last one into an ending; and mostly an exit that begins a new run
        or is forced where a tangled condition holds."""
        last = at == len(self.names) - 1
        on = {"kind": "end", "ending": "e0"} if last else {"level": self.names[at + 1], "spawn": self.rarely("", "q")}
        found = [{"id": "r0", "trigger": {"kind": self.rarely("choose", "press")}, "fresh": at == 0 and self.chance(0.3),
                  "completes": self.chance(0.7), "opens": self.condition(0.15), "to": on}]  # fmt: skip
        if self.chance(0.6):
            forced = {"kind": "auto", "when": self.counting()} if self.chance(0.5) else {"kind": "touch"}
            hatch = {"id": "r1", "area": [0, 0, 6, 4], "trigger": forced, "opens": self.counting(),
                     "completes": self.chance(0.5), "effects": self.effects(1), "to": self.destination()}  # fmt: skip
            found.insert(self.rng.randint(0, 1), hatch)
        return found

    def find(self, name):
        add = [f"add {self.rng.choice([1, 1, 1, 2])} n0"]
        return {"id": name, "when": self.condition(0.2), "effects": self.rarely(add, [*add, "gain f0"], ["gain f1"]),
                "checkpoint": self.rarely("", "q", portion=0.05)}  # fmt: skip

    def deed(self, name):
        if self.gathering:
            return self.find(name)
        if self.dropping and self.chance(0.7):
            effect = self.rng.choice(["gain f0", "gain f1", "add 1 n0", "add 1 n0"])
            return {"id": name, "effects": [effect], "checkpoint": self.rarely("", "q")}
        return {
            "id": name,
            "zone": self.rarely("", "low", "gone", portion=0.2),
            "when": self.condition(0.3),
            "effects": self.effects(2),
            "repeats": self.rng.choice(["run", "run", "visit", "always"]),
            "checkpoint": self.rarely("", "q", "gone", portion=0.25),
            "saves": self.chance(0.5),
        }

    def tile(self, name):
        return {
            "id": name,
            "level": self.rarely(self.rng.choice(self.names), "nowhere"),
            "spawn": self.rarely("", "q"),
            "right": self.rng.choice(["", "t0", "t1", "t2", "gone"]),
            "down": self.rng.choice(["", "t1", "t2"]),
        }

    def paths(self, zones):
        pairs = self.rng.choice([[("low", "high")], [("low", "high"), ("high", "low")], [("high", "low")]])
        return [
            {"from": start, "to": end, "both_ways": self.chance(0.4), "when": self.condition(0.4)}
            for start, end in (pairs if len(zones) > 1 or self.chance(0.1) else [])
        ]

    def other_exits(self):
        """How many exits a level may have beside its roads."""
        if self.dropping:
            return [0, 0, 0, 1]
        return [1, 2] if self.roaming else [1, 2, 3, 3, 4]

    def level(self, name):
        kind = "play" if name == "lb" or self.dropping else self.rng.choice(["play", "play", "play", "screen", "board"])
        zones = self.rng.choice([[], [], ["low"], ["low", "high"], ["low", "high"]])
        tiles = [self.tile(f"t{n}") for n in range(self.rng.randint(0, 3))] if kind == "board" else []
        return {
            "id": name,
            "kind": kind,
            "ships": self.rarely(True, False, portion=0.05),
            "opens": self.condition(0.15),
            "zones": [{"id": zone} for zone in zones],
            "paths": self.paths(zones),
            "on_arrival": self.effects(1) if self.chance(0.3) else [],
            "spawns": [
                {"id": spawn, "x": self.rng.choice([1, 5, 20, 30]), "y": 4, "zone": self.rarely("", "high", "x")}
                for spawn in self.rarely(["p", "q"], ["p"], ["p"], [], portion=0.2)
            ],
            "deeds": [
                self.deed(f"d{n}") for n in range(self.rng.choice([0, 0, 1, 1] if self.roaming else [0, 1, 1, 2, 2]))
            ],
            "exits": [
                *(self.exit(f"x{n}") for n in range(self.rng.choice(self.other_exits()))),
                *self.roads(name),
            ],
            "tiles": tiles,
            "first_tile": self.rng.choice(["", "t1"]),
            "cursor": self.rng.choice(["free", "open", "any"]),
        }

    def ring(self):
        """Levels through which forced exits mostly lead in a circle, once somebody is in one of them."""
        names = ["ra", "rb", "rc"][: self.rng.randint(1, 3)]
        return [
            {
                "id": name,
                "kind": self.rng.choice(["play", "screen"]),
                "spawns": [{"id": "p"}],
                "exits": [{
                    "id": "on",
                    "trigger": {"kind": "auto", "when": self.condition(0.2)},
                    "effects": self.effects(1),
                    "completes": self.chance(0.3),
                    "to": {"level": self.rarely(after, self.rng.choice(self.names)), "spawn": "p"},
                }],
            }
            for name, after in zip(names, [*names[1:], names[0]], strict=True)
        ]  # fmt: skip

    def failing(self):
        """Ways to fail in a level, and at times a lock that spends its key."""
        straight_back = [] if self.growing and self.chance(0.7) else [{"kind": "back"}]
        to = self.rng.choice([{"level": "retry"}] * 4 + [{"kind": "again"}] * 2 + straight_back)
        yield {"id": "fail", "trigger": {"kind": self.rarely("fail", "choose")}, "to": to,
               "effects": self.effects(1) if self.chance(0.2) else [], "fresh": self.chance(0.03)}  # fmt: skip
        if self.chance(0.1 if self.dropping else 0.4):
            key, spend = self.rng.choice([("has f0", "lose f0"), ("has f1", "lose f1"), ("at least 1 n0", "take 1 n0")])
            lock = {"id": "lock", "trigger": {"kind": "choose"}, "to": self.destination()}
            yield lock | ({"opens": key, "effects": [spend]} if not self.growing else {"opens": key})

    def retry(self):
        """The screen on which one finds oneself after failing."""
        back = {"kind": "back", "otherwise": self.destination(0)} if self.chance(0.3) else {"kind": "back"}
        exits = [{"id": "again", "trigger": {"kind": self.rarely("choose", "auto", portion=0.2)}, "to": back,
                  "effects": self.effects(1) if self.chance(0.2) else []}]  # fmt: skip
        if self.chance(0.4):
            exits.append(
                {"id": "out", "trigger": {"kind": "choose"}, "fresh": self.chance(0.4), "to": self.destination()}
            )
        return {"id": "retry", "kind": "screen", "exits": exits,
                "on_arrival": self.effects(1) if self.chance(0.15) else [],
                "deeds": [self.deed("mend")] if self.chance(0.15) else []}  # fmt: skip

    def levels(self):
        """The levels, and at times a ring, with a way into it."""
        found = [self.level(name) for name in self.names]
        if self.rewinding:
            for level in found:
                level["exits"] += self.failing() if level["kind"] == "play" else ()
            found.append(self.retry())
        if self.chance(0.12):
            ring = self.ring()
            into = {"id": "ring", "trigger": {"kind": "choose"}, "opens": self.condition(0.3), "to": {"level": "ra"}}
            self.rng.choice(found)["exits"].append(into)
            found += ring
        return found

    def promise(self, name):
        return {
            "id": name,
            "kind": self.rng.choice(["can", "never", "always_can", "within"]),
            "level": self.rng.choice(["", *self.names, "nowhere"]),
            "ending": self.rng.choice(["", "e0", "gone"]),
            "when": self.condition(0.5),
            "avoiding": self.some(self.names, 1),
            "crossings": self.rng.randint(0, 3),
        }

    def flow(self):
        rng = self.rng
        lifetimes = (
            ["run"]
            if self.gathering
            else ["run"] * 6 + ["profile"]
            if self.growing
            else ["visit", "run", "run", "profile"]
        )
        lifetimes += ["run"] * 8 if self.rewinding else []
        return {
            "mossy_bridge": 1,
            "start": {"level": "la", "spawn": self.rarely("", "q", portion=0.05)},
            "progress": rng.choice(["run", "profile"]),
            "saving": rng.choice(["arrival", "deed", "never"]),
            "units": {"y": rng.choice(["down", "up"])},
            "actors": ["player", "crab"],
            "endings": [{"id": "e0"}, {"id": "e1"}],
            "facts": [
                *({"id": name, "kind": "flag", "lifetime": rng.choice(lifetimes)} for name in ("f0", "f1")),
                {
                    "id": "n0",
                    "kind": "count",
                    "high": 4 if self.gathering else 2,
                    "initial": self.rarely(0, 1) if self.gathering else 0,
                    "lifetime": rng.choice(lifetimes),
                },
                {"id": "c0", "kind": "choice", "values": ["ebb", "flood"], "lifetime": rng.choice(lifetimes)},
            ],
            "levels": self.levels(),
            "promises": [self.promise(f"v{n}") for n in range(rng.randint(0, 2))],
        }

    def flow_that_rewinds(self):
        """A flow in which most facts that last a run rewind."""
        tree = self.flow()
        for fact in tree["facts"]:
            fact["rewinds"] = fact["lifetime"] == "run" and self.chance(0.8)
        return tree


def random_flow(seed):
    """The flow of a seed."""
    return flow_from_tree(_Maker(seed).flow())


def growing_flow(seed):
    """The flow of a seed in which most things only grow."""
    return flow_from_tree(_Maker(seed, growing=True).flow())


def gathering_flow(seed):
    """The flow of a seed in which most things only grow, and a count is gathered by deeds done once."""
    return flow_from_tree(_Maker(seed, growing=True, gathering=True).flow())


def roaming_flow(seed):
    """The flow of a seed in which one can go to and fro between most levels."""
    return flow_from_tree(_Maker(seed, growing=seed % 2 == 0, roaming=True).flow())


def tangled_flow(seed):
    """The flow of a seed in which levels follow one another and many exits are forced by conditions that count
    others."""
    return flow_from_tree(_Maker(seed, growing=seed % 3 == 0, tangled=True).flow())


def rewinding_flow(seed):
    """The flow of a seed, of one of the kinds before, in which failing takes back most facts."""
    gathering = {"growing": True, "gathering": True}
    kinds = ({}, {"growing": True}, gathering, {"growing": seed % 2 == 0, "roaming": True}, {"tangled": True},
             {"growing": True, "dropping": True}, gathering | {"dropping": True}, {"dropping": True})  # fmt: skip
    return flow_from_tree(_Maker(seed, rewinding=True, **kinds[seed % len(kinds)]).flow_that_rewinds())


MAKERS = (random_flow, growing_flow, gathering_flow, roaming_flow, tangled_flow, rewinding_flow)


def flows():
    """Flows of two to five levels."""
    return st.integers(0, 2**48).map(random_flow)


def four_kinds(count):
    """For each of so many seeds a flow of each of four kinds."""
    for seed in range(count):
        yield random_flow(seed)
        yield growing_flow(seed)
        yield gathering_flow(seed)
        yield rewinding_flow(seed)
