"""Every check of the chapter Structure: a flow in which it finds something, and one in which it does not."""

import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from mossy_bridge.checks.runner import inspected
from mossy_bridge.exchange.writing import flow_text
from mossy_bridge.model.flow import Start
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import board, deed, fact, flow, play_level, screen, way


def found(flow_, slug, **options):
    """Where the check finds something."""
    return [finding.at for finding in findings(flow_, slug, **options)]


def findings(flow_, slug, **options):
    return inspected(survey_flow(flow_), flow_, only=[slug], **options)


def trees(*names):
    """Play levels that lead to the ending."""
    return [play_level(name, way("end", "won")) for name in names]


class Structure(unittest.TestCase):
    def check(self, slug, flow_, *expected, **options):
        """The check finds exactly this; every message is a sentence, and every repair mends what it is for."""
        with self.subTest(slug, expected=expected):
            self.assertEqual(
                found(flow_, slug, **options), [place if isinstance(place, tuple) else (place,) for place in expected]
            )
            for finding in findings(flow_, slug, **options):
                self.assertTrue(finding.message.endswith(".") and finding.why.endswith("."))
                if finding.repair:
                    mended = finding.repair.edit(flow_)
                    self.assertNotIn(finding.message, [f.message for f in findings(mended, slug, **options)])
                    self.assertNotEqual(flow_text(mended), flow_text(flow_))

    def test_no_start(self):
        self.check("no-start", flow(play_level("a")))
        self.check("no-start", flow(play_level("a"), start={"level": "b"}), "b")
        self.check("no-start", flow(play_level("a", ships=False), play_level("b")), "a")
        self.check("no-start", flow(play_level("a"), start={"level": "a", "spawn": "q"}), "a")
        self.check("no-start", flow(play_level("a"), start={}), ())

    def test_exit_unconnected(self):
        f = flow(play_level("a", way("x"), way("y", "b")), play_level("b"))
        self.check("exit-unconnected", f, "a.x")
        self.assertEqual(findings(f, "exit-unconnected")[0].repair.label, "Lead to b, the next level")

    def test_what_an_exit_does_otherwise_counts_too(self):
        for slug, otherwise, beside in (
            ("destination-missing", {"level": "gone"}, []),
            ("destination-not-shipped", {"level": "c"}, [play_level("c", ships=False)]),
            ("spawn-missing", {"level": "b", "spawn": "gone"}, []),
        ):
            exit_ = {**way("x"), "to": {"level": "b", "otherwise": otherwise}}
            f = flow(play_level("a", exit_), play_level("b", way("end", "won")), *beside)
            self.assertEqual(found(f, slug), [("a.x",)], slug)

    def test_destination_missing(self):
        otherwise = {"kind": "next", "otherwise": {"kind": "end", "ending": "gone"}}
        f = flow(
            play_level(
                "a",
                way("x", "slipwey"),
                way("y", {"kind": "end"}),
                way("z", otherwise),
                way("ok", "slipway"),
                way("e", {}),
            ),
            play_level("slipway"),
        )
        self.check("destination-missing", f, "a.x", "a.y", "a.z", "a.e")
        self.assertEqual(findings(f, "destination-missing")[0].repair.label, "Lead to slipway")

    def test_destination_not_shipped(self):
        f = flow(play_level("a", way("x", "b"), way("y", "c")), play_level("b", ships=False), play_level("c"))
        self.check("destination-not-shipped", f, "a.x")

    def test_spawn_missing(self):
        f = flow(
            play_level(
                "a",
                way("x", "b", "gone"),
                way("y", "bare"),
                way("z", "scr"),
                way("n", {"kind": "next"}),
                deeds=[deed("d", checkpoint="gone"), deed("ok", checkpoint="p")],
            ),
            {"id": "bare"},
            play_level("b"),
            screen("scr", way("w", "a", "p")),
            board("m", {"id": "t", "level": "b", "spawn": "west"}, {"id": "u", "level": "b"}),
        )
        self.check("spawn-missing", f, "a.x", "a.y", "a.n", "a.d", "m.t")

    def test_spawn_missing_where_next_finds_it_from_a_screen(self):
        f = flow(play_level("a", way("x", "s")), screen("s", way("on", {"kind": "next"})), {"id": "bare"})
        self.check("spawn-missing", f, "s.on")

    def test_next_runs_out(self):
        last = flow(
            play_level("a", way("x", "b"), way("back", {"kind": "previous"})),
            play_level(
                "b",
                way("n", {"kind": "next"}),
                way("o", {"kind": "next", "otherwise": {"kind": "end", "ending": "won"}}),
            ),
        )
        self.check("next-runs-out", last, "a.back", "b.n")
        reached = flow(
            play_level("a", way("x", "b")), play_level("b", way("x", "s")), screen("s", way("n", {"kind": "next"}))
        )
        self.check("next-runs-out", reached, "s.n")
        never = flow(play_level("a", way("x", "s")), screen("s", way("n", {"kind": "next"})), play_level("b"))
        self.check("next-runs-out", never)

    def test_again_and_itself_and_no_way_out(self):
        f = flow(
            play_level(
                "a",
                way("again", {"kind": "again"}),
                way("x", "a"),
                way("f", "a", trigger={"kind": "fail"}),
                way("s", "s"),
            ),
            screen("s", way("again", {"kind": "again"})),
            play_level("c"),
            board("m", {"id": "t", "level": "a"}),
        )
        self.check("again-outside-play", f, "s.again")
        self.check("exit-to-itself", f, "a.x")
        self.check("no-way-out", f, "c")

    def test_unknown_names(self):
        f = flow(
            play_level(
                "a",
                way("x", "b", opens="has kee", effects=["add 1 oyl", "turn tide to ebbb"]),
                deeds=[deed("d", "gain oil", when="seen beta")],
                opens="has key",
                on_arrival=["gain nobody_at_all"],
            ),
            play_level("b", way("x", "won")),
            facts=["key", "oil:9", "tide=ebb,flood"],
            promises=[{"id": "p", "kind": "can", "level": "b", "when": "lacks kex"}],
        )
        self.check("unknown-name", f, "a", "a.d", "a.d", "a.x", "a.x", "a.x", "p")
        labels = [x.repair.label if x.repair else "" for x in findings(f, "unknown-name")]
        self.assertEqual(labels[3:], ["Read it as “key”", "Read it as “oil”", "Read it as “ebb”", "Read it as “key”"])

    def test_facts_and_completion(self):
        f = flow(
            play_level("a", way("x", "won", opens="has asked and done a", effects=["gain unread", "clear asked"])),
            facts=["asked", "unread", "idle"],
        )
        self.check("fact-never-changed", f, "asked")
        self.check("fact-never-read", f, "unread")
        self.check("nothing-completes", f, "a")
        promise = [{"id": "p", "kind": "never", "level": "a", "when": "has unread"}]
        self.check(
            "fact-never-read",
            flow(play_level("a", way("x", "won", effects=["gain unread"])), facts=["unread"], promises=promise),
        )
        self.check(
            "nothing-completes",
            flow(play_level("a", way("x", "won", completes=True, opens="lacks key or done a")), facts=["key"]),
        )

    def test_codes_and_names(self):
        def coded(*codes, **fields):
            return flow(
                *[
                    play_level(f"l{i}", way("x", "won"), code=code, region="r", **fields)
                    for i, code in enumerate(codes)
                ],
                regions=[{"id": "r"}],
            )

        self.check("duplicate-code", coded("1-a", "1-A", "", ""), ("l0", "l1"))
        f = flow(play_level("a", name="Inn"), play_level("b", name="INN"), play_level("c", name="Out"))
        self.check("duplicate-name", f, ("a", "b"))
        self.check("code-gap", coded("2-1", "2-2", "2-2b", "2-2c", "2-3", "3-1", "3-2"))
        self.check("code-gap", coded("2-1", "2-3", "2-3", "2-3b", "2-3a", "2-5"), "l1", "l2", "l4", "l5")
        self.check("naming-style", coded("2-1", "2-2", "2-12b", "II"), "l3")
        self.check("naming-style", coded("2-1", "2-2", "II", "III"))
        files = ("level_1", "level_2", "level_10", "Level3", "")
        f = flow(*[play_level(f"l{i}", file=f"maps/{name}.map" if name else "") for i, name in enumerate(files)])
        self.check("naming-style", f, "l3")
        f = flow(
            play_level("a", code="1-3", name="Gate 3", file="m/l03.map"),
            play_level("b", code="1-2", name="Mill", file="m/l_4.map"),
        )
        self.check("numbers-disagree", f)
        f = flow(play_level("a", code="1-2", name="Mill 4", file=f"m/{'7' * 5000}.map"))
        self.check("numbers-disagree", f, "a")

    def test_numbers_in_one_relation(self):
        def numbered(*rows, **regions):
            return flow(*[
                play_level(f"l{i}", code=code, name=name, file=f"m/{file}.map" if file else "", **regions)
                for i, (code, name, file) in enumerate(rows)
            ])  # fmt: skip

        by_world = [("1-1", "Mill", "l01"), ("1-2", "Gate", "l02"), ("2-1", "Quay", "l03"), ("2-2", "Yard", "l04"),
                    ("2-3", "Loft", "l05")]  # fmt: skip
        self.check("numbers-disagree", numbered(*by_world))
        self.check("numbers-disagree", numbered(*by_world[:4], ("2-3", "Loft", "l15")), "l4")
        offset = [("1-1", "", "l11"), ("1-2", "", "l12"), ("1-3", "", "l13"), ("1-4", "", "l15")]
        self.check("numbers-disagree", numbered(*offset), "l3")
        self.check("numbers-disagree", numbered(("1-1", "Mill 1", ""), ("1-2", "Mill 3", "")), "l1")
        self.check("numbers-disagree", numbered(("1-1", "7 Mills", ""), ("1-2", "Gate of 9 bells", "")))
        self.check("numbers-disagree", numbered(("1-1", "Mill 9", ""), ("1-2", "Mill 4", ""), ("1-3", "Mill 4", "")))

    def test_order_and_start(self):
        title = screen("title", way("new", "b"))
        f = flow(title, play_level("a", way("on", "b")), play_level("b", way("on", "a"), way("end", "won")))
        self.check("start-out-of-order", f, "b")
        self.check("start-out-of-order", replace(f, levels=(f.levels[0], f.levels[2], f.levels[1])))
        self.check("start-out-of-order", replace(f, start=Start(level="b")), "b")
        self.check("start-out-of-order", replace(f, start=Start(level="a")))
        both = screen("title", way("new", "b"), way("other", "a"))
        self.check("start-out-of-order", flow(both, *trees("a", "b")))
        tiles = [{"id": "t", "level": "b"}]
        self.check("start-out-of-order", flow(board("title", *tiles), *trees("a", "b")), "b")
        self.check("start-out-of-order", flow(board("title", *tiles, {"id": "u", "level": "a"}), *trees("a", "b")))

    def test_going_back_in_the_order(self):
        def goes(*exits_of_a, completes=True, more=()):
            return flow(play_level("a", *exits_of_a), play_level("b", way("on", "c", completes=True)),
                        play_level("c", way("on", "a", completes=completes)), *more)  # fmt: skip

        self.check("order-goes-back", goes(way("on", "b")), "c.on")
        self.check("order-goes-back", goes(way("on", "b"), completes=False))
        self.check("order-goes-back", goes(way("on", "b"), way("back", "c")))
        self.check("order-goes-back", goes(way("on", "b"), more=[play_level("d", way("on", "a", completes=True))]))

    def test_what_follows_from_planned_levels(self):
        """Gaps of planned levels, and what they alone keep out of reach, are hints until delivery."""
        planned = {"id": "b", "status": "planned"}
        f = flow(play_level("a", way("on", "b", spawn="west")), planned, play_level("c", way("on", "won")))
        for final, expected in ((False, "hint"), (True, "error")):
            grave = {
                (one.check, one.at): one.severity
                for one in inspected(survey_flow(f), f, final=final)
                if one.severity in ("hint", "error")
            }
            for check, at in (("no-way-out", "b"), ("spawn-missing", "a.on"), ("level-unreachable", "b"),
                              ("level-unreachable", "c"), ("ending-unreachable", "won")):  # fmt: skip
                self.assertEqual(grave[check, (at,)], expected, check)
        # What the gaps have nothing to do with stays an error.
        f = flow(play_level("a", way("on", "b")), {**planned, "spawns": [{"id": "p"}]}, play_level("c", way("on", "c")),
                 play_level("d", way("on", "won"), opens="never"))  # fmt: skip
        severity = {one.at[0]: one.severity for one in findings(f, "level-unreachable")}
        self.assertEqual(severity, {"c": "hint", "d": "error"})
        stuck = flow(play_level("a", way("on", "b"), way("end", "won")), {**planned, "spawns": [{"id": "p"}]})
        self.assertEqual([one.severity for one in findings(stuck, "stuck")], ["hint"])
        made = flow(play_level("a", way("on", "b"), way("end", "won")), {**planned, "status": "draft",
                                                                         "spawns": [{"id": "p"}]})  # fmt: skip
        self.assertEqual([one.severity for one in findings(made, "stuck")], ["error"])

    def test_twins(self):
        plan = {"width": 20, "height": 10}

        def like(level, **more):
            return {**play_level(level, way("on", "won")), "name": f"Mill {ord(level)}", "plan": plan, **more}

        self.check("twins", flow(like("a"), like("b"), like("c")), ("a", "b", "c"))
        self.check("twins", flow(like("a"), like("b", status="planned")))
        self.check("twins", flow(like("a"), like("b", name="Quay")))
        self.check("twins", flow(like("a"), like("b", plan={"width": 21, "height": 10})))
        self.check("twins", flow(like("a"), like("b", exits=[way("on", "a")])), ("a", "b"))
        self.check("twins", flow(like("a"), like("b", spawns=[{"id": "p", "x": 2}])))

    def test_planned_levels(self):
        f = flow(play_level("a", way("x", "b")), play_level("b", status="planned"), play_level("c", status="planned"))
        self.check("level-planned", f, "b")
        self.assertEqual([x.severity for x in findings(f, "level-planned", final=True)], ["error"])

    def test_files(self):
        names = ("maps/level_1.map", "maps/Level_2.map", "maps/gone.map", "../out.map", "maps/level_1.map", "")
        f = flow(*[play_level(f"l{i}", file=name) for i, name in enumerate(names)])
        with tempfile.TemporaryDirectory() as folder:
            maps = Path(folder, "maps")
            maps.mkdir()
            for name in ("level_1.map", "level_2.map", "level_3.map", "notes.txt"):
                (maps / name).write_text("")
            options = {"folder": Path(folder)}
            self.check("file-missing", f, "l2", "l3", **options)
            self.check("file-case", f, "l1", **options)
            self.check("file-unlisted", f, "maps/level_3.map", **options)
            self.check("twin-file", f, ("l0", "l4"), **options)
        self.check("file-missing", f)

    def test_missing_parts(self):
        f = flow(
            play_level(
                "a",
                way("x", "won", transition="gone", zone="attic"),
                way("t", "won", trigger={"kind": "touch", "by": ["crab"]}),
                zones=[{"id": "low"}],
                paths=[{"from": "low", "to": "cellar"}],
                cast=["gull"],
                region="nowhere",
                pattern="none",
            ),
            play_level("b", way("x", "won", zone="low"), spawns=[{"id": "p", "zone": "low"}]),
        )
        self.check("transition-missing", f, "a.x")
        self.check("zone-missing", f, "a.x", "a", "b.p", "b.x")
        self.check("actor-missing", f, "a", "a.t")
        self.check("region-missing", f, "a")
        self.check("pattern-missing", f, "a")

    def test_pattern_drift(self):
        pattern = {"id": "cell", "minutes": 3, "exits": [{"id": "out"}]}
        levels = [
            {"id": "a", "pattern": "cell", "minutes": 3},
            {"id": "b", "pattern": "cell", "minutes": 4},
            {"id": "c", "pattern": "cell", "exits": [{"id": "out"}]},
        ]
        self.check("pattern-drift", flow(*levels, patterns=[pattern]), "a", "c")

    def test_idle_references(self):
        f = flow(
            board(
                "m",
                {"id": "t", "level": "a", "right": "gone"},
                first_tile="nowhere",
                copied_from="old",
                ticked=["music"],
                unreviewed=["exit gone", "file"],
            ),
            play_level("a", way("x", "won")),
            map={"ghost": {"x": 1}},
            promises=[{"id": "p", "kind": "can", "level": "ghost", "ending": "lost", "avoiding": ["a", "shade"]}],
            walks=[{"id": "w", "expect": "at:ghost"}, {"id": "v", "expect": "ends:won"}],
            waivers=[{"check": "stuck", "at": "a.x"}, {"check": "stuck", "at": "a.gone"}],
            trial_settings=[{"at": "levels.a.exits.x.opens", "ships_as": "never"}, {"at": "levels.a.exits.y.opens"}],
        )
        self.check(
            "reference-idle",
            f,
            "m.t",
            "m",
            "m",
            "m",
            "m",
            "ghost",
            "p",
            "p",
            "p",
            "w",
            "a.gone",
            "levels.a.exits.y.opens",
        )

    def test_nothing_is_found_in_the_clean_demo(self):
        from importlib.resources import files

        from mossy_bridge.exchange.reading import flow_from_bytes

        f = flow_from_bytes(files("mossy_bridge.demo").joinpath("tidewick.mossy").read_bytes())
        grave = [x for x in inspected(survey_flow(f), f) if x.severity != "hint"]
        self.assertEqual(grave, [])

    def test_the_unfinished_demo_has_its_planted_faults(self):
        from importlib.resources import files

        from mossy_bridge.exchange.reading import flow_from_bytes

        f = flow_from_bytes(files("mossy_bridge.demo").joinpath("tidewick_unfinished.mossy").read_bytes())
        slugs = {x.check for x in inspected(survey_flow(f), f)}
        self.assertLessEqual(
            {
                "level-unreachable",
                "stuck",
                "exit-unconnected",
                "destination-missing",
                "spawn-missing",
                "next-runs-out",
                "again-outside-play",
                "unknown-name",
                "transition-missing",
                "zone-missing",
                "fires-on-arrival",
                "left-over-facts",
                "progress-lowered",
                "duplicate-code",
                "fact-never-changed",
                "lives-come-back",
            },
            slugs,
        )

    def test_a_waiver_marks_and_names_the_reason(self):
        waiver = [{"check": "exit-unconnected", "at": "a.x", "why": "next week"}]
        f = flow(play_level("a", way("x"), way("y")), waivers=waiver)
        self.assertEqual([x.waived for x in findings(f, "exit-unconnected")], ["next week", ""])

    def test_a_fact_kind_is_named(self):
        f = flow(play_level("a", way("x", "won", opens="has n")), facts=[fact("n:3")])
        self.assertIn("names “n”, which is no flag", findings(f, "unknown-name")[0].message)


if __name__ == "__main__":
    unittest.main()
