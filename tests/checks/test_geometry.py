"""Every check of the chapter Triggers and places, on both sides of its threshold.

The walker is 0.8 wide and 1.6 high, moves 6 a second in ticks of 1/60, and jumps 3 high under a gravity of 30.
"""

import unittest

from msgspec.structs import replace

from mossy_bridge.checks.runner import inspected
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import deed, flow, play_level, way

FLOOR = {"width": 40, "height": 20, "solids": [[0, 16, 40, 4]]}


def gate(*area, to="won", **trigger):
    """A touch exit with an area."""
    return way("gate", to, area=list(area), trigger={"kind": "touch", **trigger})


class Places(unittest.TestCase):
    def check(self, slug, flow_, *expected):
        found = inspected(survey_flow(flow_), flow_, only=[slug])
        self.assertEqual([f.at for f in found], [e if isinstance(e, tuple) else (e,) for e in expected], slug)
        for finding in found:
            self.assertTrue(finding.message.endswith("."))
            if finding.repair:
                mended = finding.repair.edit(flow_)
                self.assertNotIn(finding.at, [f.at for f in inspected(survey_flow(mended), mended, only=[slug])])

    def one(self, exit_, plan=None, **fields):
        spawns = [{"id": "p", "x": 30, "y": 16}]
        return flow(play_level("a", exit_, plan=FLOOR if plan is None else plan, spawns=spawns), **fields)

    def test_set_off_by_anyone(self):
        both = {"by": ["player", "crab"]}
        for cast, trigger, expected in ((["crab"], both, ["a.gate"]), ([], both, []), (["crab"], {}, [])):
            f = flow(play_level("a", gate(5, 12, 2, 4, **trigger), cast=cast), actors=["player", "crab"])
            self.check("trigger-by-anyone", f, *expected)

    def test_empty_and_outside(self):
        for area, empty, outside in (
            ((5, 12, 0, 4), True, False), ((5, 12, 0.1, 4), False, False), ((40, 12, 2, 4), False, True),
            ((39.9, 12, 2, 4), False, False), ((-2, 12, 2, 4), False, True),
        ):  # fmt: skip
            self.check("trigger-empty", self.one(gate(*area)), *["a.gate"] * empty)
            self.check("trigger-outside", self.one(gate(*area)), *["a.gate"] * outside)

    def test_slipping_through(self):
        # At 100 a second a tick of 0.02 is 2 long: an area thinner than 2 - 0.8 is missed.
        for view, area, missed in (
            ("side", (5, 12, 1.1, 4), True), ("side", (5, 12, 1.3, 4), False), ("side", (5, 12, 3, 0.1), False),
            ("top", (5, 12, 3, 0.3), True), ("top", (5, 12, 3, 0.5), False), ("top", (5, 12, 1.1, 4), True),
        ):  # fmt: skip
            walker = {"speed": 100, "tick": 0.02, "view": view}
            with self.subTest(view=view, area=area):
                self.check("trigger-slips-through", self.one(gate(*area), walker=walker), *["a.gate"] * missed)

    def test_jumping_over_and_running_under(self):
        jump = 6 * 2 * (2 * 3 / 30) ** 0.5
        wall = {**FLOOR, "solids": [[0, 16, 40, 4], [7.5, 10, 2, 6]]}
        pit = {**FLOOR, "solids": [[0, 16, 5.5, 4], [6, 16, 1, 4], [7.2, 17, 20, 3]]}
        bare = {**FLOOR, "solids": []}
        for name, area, plan, over, under in (
            ("high enough", (5, 13, 2, 3), FLOOR, False, False),
            ("too low", (5, 13.1, 2, 2.9), FLOOR, True, False),
            ("too long for a jump", (5, 14, jump + 0.1, 2), FLOOR, False, False),
            ("just short enough", (5, 14, jump - 0.1, 2), FLOOR, True, False),
            ("a wall behind", (5, 14, 2, 2), wall, False, False),
            ("no ground behind", (5, 14, 2, 2), pit, False, False),
            ("no ground at all", (5, 14, 2, 2), bare, False, False),
            ("at the plan's edge", (39, 14, 1, 2), FLOOR, False, False),
            ("hanging low", (5, 10, 2, 4.4), FLOOR, False, False),
            ("hanging high", (5, 10, 2, 4.3), FLOOR, False, True),
        ):
            with self.subTest(name):
                f = self.one(gate(*area), plan=plan)
                self.check("trigger-jumped-over", f, *["a.gate"] * over)
                self.check("trigger-run-under", f, *["a.gate"] * under)
        up = {"width": 40, "height": 20, "solids": [[0, 0, 40, 4]]}
        for height, over in ((3, False), (2.9, True)):
            f = self.one(gate(5, 4, 2, height), plan=up, units={"y": "up"})
            self.check("trigger-jumped-over", f, *["a.gate"] * over)
        self.check("trigger-jumped-over", self.one(gate(5, 15, 2, 1), walker={"view": "top"}))

    def test_overlapping(self):
        def two(area, to, opens):
            return flow(
                play_level("a", gate(5, 12, 2, 4), way("other", to, area=area, trigger={"kind": "press"}, opens=opens), plan=FLOOR, deeds=[deed("d", "gain key")], spawns=[{"id": "p", "x": 30, "y": 16}]),
                play_level("b", way("x", "won")),
                facts=["key"],
            )  # fmt: skip

        self.check("triggers-overlap", two([6, 12, 2, 4], "b", "always"), ("a.gate", "a.other"))
        self.check("triggers-overlap", two([6, 12, 2, 4], "b", "has key"), ("a.gate", "a.other"))
        self.check("triggers-overlap", two([7, 12, 2, 4], "b", "always"))
        self.check("triggers-overlap", two([6, 12, 2, 4], "won", "always"))
        self.check("triggers-overlap", two([6, 12, 2, 4], "b", "never"))

    def test_spawns_in_exits(self):
        for x, inside in ((4.5, False), (4.7, True), (7.3, True), (7.5, False)):
            f = flow(play_level("a", gate(5, 12, 2, 4), plan=FLOOR, spawns=[{"id": "p", "x": x, "y": 16}]))
            self.check("spawn-in-exit", f, *[("a.p", "a.gate")] * inside)
        f = flow(play_level("a", gate(5, 12, 2, 4, armed_on_arrival=False), spawns=[{"id": "p", "x": 6, "y": 16}]))
        self.check("spawn-in-exit", f)

    def test_ping_pong(self):
        def doors(x):
            return flow(
                play_level("a", gate(5, 12, 2, 4, to="b"), spawns=[{"id": "p", "x": 6, "y": 16}]),
                play_level("b", gate(5, 12, 2, 4, to="a"), spawns=[{"id": "p", "x": x, "y": 16}]),
            )

        self.check("doors-ping-pong", doors(6), ("a.gate", "b.gate"))
        self.check("doors-ping-pong", doors(9))

    def test_where_spawns_lie(self):
        for x, y, outside, solid, air, unplaced in (
            (20, 16, 0, 0, 0, 0), (41, 16, 1, 0, 1, 0), (20, 16.1, 0, 1, 0, 0), (20, 9, 0, 0, 0, 0), (0, 0, 0, 0, 0, 1),
            (20, 21, 1, 1, 1, 0), (40.3, 16, 1, 0, 0, 0), (20, 17.7, 0, 1, 0, 0),
        ):  # fmt: skip
            with self.subTest(x=x, y=y):
                f = flow(play_level("a", way("x", "won"), plan=FLOOR, spawns=[{"id": "p", "x": x, "y": y}]))
                self.check("spawn-outside", f, *["a.p"] * outside)
                self.check("spawn-in-solid", f, *["a.p"] * solid)
                self.check("spawn-in-air", f, *["a.p"] * air)
                self.check("spawn-unplaced", f, *["a.p"] * unplaced)
        bare = flow(
            play_level("a", way("x", "won"), plan={**FLOOR, "solids": []}, spawns=[{"id": "p", "x": 3, "y": 3}])
        )
        self.check("spawn-in-air", bare)
        self.check("spawn-unplaced", flow(play_level("a", way("x", "won"))))

    def test_unused_spawns(self):
        spawns = [{"id": name} for name in ("first", "led", "otherwise", "tiled", "check", "started", "idle")]
        f = flow(
            {"id": "a", "spawns": spawns, "exits": [way("x", "won")], "deeds": [deed("d", checkpoint="check")]},
            play_level(
                "b", way("x", "a", "led"), way("y", {"kind": "next", "otherwise": {"level": "a", "spawn": "otherwise"}})
            ),
            {"id": "m", "kind": "board", "tiles": [{"id": "t", "level": "a", "spawn": "tiled"}]},
            start={"level": "a", "spawn": "started"},
        )
        self.check("spawn-unused", f, "a.idle")

    def test_far_returns(self):
        # The way back is at 5 to 7 across; 12 units are still near.
        for x, far in ((19, False), (19.1, True)):
            f = flow(
                play_level("a", way("go", "b"), spawns=[{"id": "p"}]),
                play_level("b", gate(5, 12, 2, 4, to="a"), spawns=[{"id": "p", "x": x, "y": 16}]),
            )
            self.check("return-far-away", f, *[("a.go", "b.gate")] * far)

    def test_one_sided_ways(self):
        def chain(*missing):
            levels = []
            for n in range(4):
                exits = [gate(5, 12, 2, 4, to=f"l{n + 1}")] if n < 3 else []
                if n and n not in missing:
                    exits.append(way("back", f"l{n - 1}", area=[0, 12, 2, 4], trigger={"kind": "press"}))
                levels.append(play_level(f"l{n}", *exits, region="r"))
            return flow(*levels, regions=[{"id": "r"}])

        self.check("two-way-one-sided", chain(1), "l0.gate")
        for back in ({"level": "l0"}, {"kind": "previous"}, {"kind": "back"}):
            levels = list(chain(1).levels)
            chosen = flow(play_level("x", way("back", back))).levels[0].exits
            levels[1] = replace(levels[1], exits=(*levels[1].exits, *chosen))
            self.check("two-way-one-sided", replace(chain(1), levels=tuple(levels)))
        self.check("two-way-one-sided", chain(1, 2))
        self.check("two-way-one-sided", chain())

    def test_buried_and_narrow(self):
        pit = {**FLOOR, "solids": [[0, 16, 40, 4], [5, 10, 2, 3], [5, 13, 2, 3]]}
        self.check("exit-buried", self.one(gate(5, 12, 2, 4), plan=pit), "a.gate")
        self.check("exit-buried", self.one(gate(5, 12, 2.1, 4), plan=pit))
        self.check("exit-buried", self.one(gate(5, 16, 2, 9), plan=pit), "a.gate")  # what sticks out counts for nothing
        self.check("exit-buried", self.one(gate(5, 30, 2, 9), plan=pit))
        # A passage 6 wide from above, between two walls; the body is 0.8 wide and 1.6 high.
        walls = {"width": 40, "height": 20, "solids": [[0, 0, 10, 20], [16, 0, 24, 20]]}
        for area, narrow in (
            ((10, 5, 5.2, 1), True), ((10, 5, 5.3, 1), False), ((10, 5, 6, 1), False), ((10.4, 5, 5.2, 1), False),
            ((10, 5, 3.9, 1), False), ((9, 5, 6, 1), False), ((12, 5, 1, 4), False),
        ):  # fmt: skip
            with self.subTest(area=area):
                top = self.one(gate(*area), plan=walls, walker={"view": "top"})
                self.check("exit-narrow", top, *["a.gate"] * narrow)
                self.check("exit-narrow", self.one(gate(*area), plan=walls))
        one_wall = {"width": 40, "height": 20, "solids": [[6, 0, 34, 20]]}
        self.check("exit-narrow", self.one(gate(0, 5, 5, 1), plan=one_wall, walker={"view": "top"}), "a.gate")
        open_ = self.one(gate(0, 5, 5, 1), plan={"width": 6, "height": 20}, walker={"view": "top"})
        self.check("exit-narrow", open_)

    def test_walled_off(self):
        def split(gap, view="top"):
            """A wall across the plan with a gap in it, the spawn point at the right."""
            wall = [[10, 0, 2, 8], [10, 8 + gap, 2, 12 - gap]]
            return self.one(gate(2, 2, 2, 2), plan={**FLOOR, "solids": wall}, walker={"view": view})

        self.check("exit-walled-off", split(0), "a.gate")
        self.check("exit-walled-off", split(1.5), "a.gate")
        self.check("exit-walled-off", split(1.6))
        lever = deed("lever", x=3, y=4)
        plan = {**FLOOR, "solids": [[10, 0, 2, 20]]}
        spawns = [{"id": "p", "x": 30, "y": 16}]
        f = flow(play_level("a", plan=plan, spawns=spawns, deeds=[lever]), walker={"view": "top"})
        self.check("deed-walled-off", f, "a.lever")
        spawns = [{"id": "p", "x": 30, "y": 16, "zone": "east"}, {"id": "q", "x": 4, "y": 16, "zone": "west"}]
        for zone, off in (("west", []), ("east", ["a.lever"]), ("loft", [])):
            deeds = [deed("lever", x=3, y=4, zone=zone)]
            zones = [{"id": "east"}, {"id": "west"}, {"id": "loft"}]
            f = flow(play_level("a", plan=plan, spawns=spawns, zones=zones, deeds=deeds), walker={"view": "top"})
            self.check("deed-walled-off", f, *off)

    def test_out_of_reach_by_jumping(self):
        # A jump is 3 high and 6 * 2 * sqrt(6/30) = 5.37 long; a tenth more is granted.
        for height, severity in ((3, None), (3.3, None), (3.4, "hint")):
            ledge = {**FLOOR, "solids": [[0, 16, 40, 4], [4, 16 - height, 4, 0.5]]}
            f = self.one(gate(5, 16 - height - 1, 1, 1), plan=ledge)
            found = inspected(survey_flow(f), f, only=["exit-walled-off"])
            # the body is 1.6 high, so what stands on the ledge is touched from 1.6 below its foot
            self.assertEqual(found, [])
            lever = deed("lever", x=6, y=16 - height - 2.6)
            spawns = [{"id": "p", "x": 30, "y": 16}]
            f = flow(play_level("a", plan={**FLOOR, "solids": [[0, 16, 40, 4]]}, spawns=spawns, deeds=[lever]))
            found = inspected(survey_flow(f), f, only=["deed-walled-off"])
            self.assertEqual([one.severity for one in found], ["hint"] if height + 2.6 - 1.6 > 3.3 else [])
            del severity
        pit = {**FLOOR, "solids": [[0, 16, 10, 4], [20, 16, 20, 4], [0, 19.9, 40, 0.1]]}
        f = self.one(gate(2, 12, 1, 4), plan=pit)  # 10 wide, nearly 4 deep: neither over nor out of it
        self.assertEqual([one.severity for one in inspected(survey_flow(f), f, only=["exit-walled-off"])], ["hint"])
        paths = {"zones": [{"id": "n"}, {"id": "m"}], "paths": [{"from": "n", "to": "m"}]}
        f = flow(play_level("a", gate(2, 12, 1, 4), plan=pit, spawns=[{"id": "p", "x": 30, "y": 16}], **paths))
        self.check("exit-walled-off", f)

    def test_landing_shared(self):
        def doors(one, other, more=(), start="a"):
            plan = {"width": 40, "height": 20}
            west, east = gate(*one, to={"level": "c"}), gate(*other, to={"level": "c"})
            return flow(play_level("c", plan=FLOOR), play_level("a", west, *more, plan=plan),
                        play_level("b", east, plan=plan), start={"level": start})  # fmt: skip

        at = ("c.p", "a.gate", "b.gate")
        self.check("landing-shared", doors((0, 9, 2, 2), (38, 9, 2, 2)), at)
        self.check("landing-shared", doors((20, 0, 2, 2), (20, 18, 2, 2)), at)
        self.check("landing-shared", doors((0, 9, 2, 2), (20, 9, 2, 2)))
        self.check("landing-shared", doors((0, 9, 2, 2), (2, 9, 2, 2)))
        self.check("landing-shared", doors((0, 9, 2, 2), (38, 9, 2, 2), more=[way("third", "c")]))
        self.check("landing-shared", doors((0, 9, 2, 2), (38, 9, 2, 2), start="c"))  # where the game begins, too


if __name__ == "__main__":
    unittest.main()
