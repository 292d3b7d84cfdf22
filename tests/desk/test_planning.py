"""What a designer plans before anything is drawn, by menu and keyboard, and what the program names by itself."""

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit

from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.desk.sentences.blank import Blank
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import ChecklistItem, Destination, Fact, Level
from mossy_bridge.plan.laying import Part
from tests.support.build import flow, play_level, screen, way
from tests.support.qt import DeskCase, open_popup


class PlanningCase(DeskCase):
    def say_yes(self):
        """Says yes, if there is anything to say it to."""
        if self.window.proposal_bar.proposal:
            self.window.proposal_bar.yes.click()


class Planning(PlanningCase):
    def take(self, flow_):
        self.window.document.take(flow_)
        self.settle()

    @property
    def flow(self):
        return self.window.document.flow

    def trigger(self, name):
        self.window.actions_made.refresh()
        self.window.actions_made.made[name].trigger()

    def test_things_are_made_without_a_plan(self):
        self.take(flow(play_level("a", way("on", "won")), screen("shop", way("leave", "a"))))
        for level in ("a", "shop"):
            self.window.selection.select(level)
            for name in ("new_deed", "new_spawn", "new_spawn"):
                self.trigger(name)
            self.assertEqual(len(self.flow.level(level).deeds), 1)
        self.assertEqual([len(self.flow.level(name).spawns) for name in ("a", "shop")], [3, 2])
        self.assertEqual(self.window.selection.parts, (Part("spawns", self.flow.level("shop").spawns[-1].id),))
        self.window.selection.select("a")
        self.person.answers["New zone"] = "The Mill"
        self.trigger("new_zone")
        self.assertEqual([zone.name for zone in self.flow.level("a").zones], ["The Mill"])
        self.trigger("new_solid")  # nothing silently does nothing
        self.assertIn("has none yet", self.person.told[-1])
        self.window.requests.plans.set_plan("a", "the size", width=20, height=10)
        self.trigger("new_solid")
        self.assertEqual(self.flow.level("a").plan.solids, ((9.2, 4.5, 1.6, 1),))

    def test_new_things_on_a_plan_stand_where_there_is_room(self):
        self.open_demo()
        self.window.selection.select("net_loft")
        before = appraise(self.flow, budget=default_budget(self.flow))
        self.trigger("new_spawn")
        self.trigger("new_deed")
        after = appraise(self.flow, budget=default_budget(self.flow), before=before)
        known = {(f.check, f.at) for f in before.findings}
        self.assertEqual([f.check for f in after.findings if (f.check, f.at) not in known], ["spawn-unused"])

    def test_names_that_the_program_makes_trip_no_check(self):
        self.open_demo()
        for level in ("slipway", "eel_sluice", "title"):
            self.window.selection.select(level)
            self.trigger("new_level")
            self.say_yes()
        self.window.selection.select("net_loft", "hatch")
        self.window.requests.crossings.lead_to_new_level()
        self.say_yes()
        self.settle()
        self.assertEqual(len(self.flow.levels), 29)
        found = [(f.check, f.message) for f in self.window.result.findings
                 if f.check in ("numbers-disagree", "duplicate-name", "duplicate-code", "naming-style")]  # fmt: skip
        self.assertEqual(found, [])
        self.assertTrue(all(level.code for level in self.flow.levels if level.name.startswith("New level")))

    def test_a_new_level_from_a_blank_is_shown_first_as_well(self):
        onward = way("on", {"kind": "next"})
        line = flow(play_level("a", onward, way("x", None), code="1-1"), play_level("b", onward, code="1-2"),
                    play_level("c", way("end", "won"), code="1-3"))  # fmt: skip
        self.take(line)
        self.window.selection.select("a", "x")
        self.window.requests.crossings.lead_to_new_level()
        self.assertTrue(self.window.proposal_bar.isVisibleTo(self.window))
        self.say_yes()
        new = next(level for level in self.flow.levels if level.name == "New level")
        self.assertEqual(new.code, "1-1b")

    def test_cut_and_paste_is_a_move(self):
        self.open_demo()
        level, ways_in = self.flow.level("net_loft"), self.flow.level("gull_stair").exits
        self.assertIn("net_loft", [exit_.to.level for exit_ in ways_in])
        self.window.selection.select("net_loft")
        self.trigger("cut")
        self.say_yes()
        self.assertIsNone(self.flow.level("net_loft"))
        self.window.selection.select("pan_row")
        self.trigger("paste")
        self.say_yes()
        moved = self.flow.level("net_loft")
        self.assertEqual(
            (moved.name, moved.code, moved.exits, moved.unreviewed), (level.name, level.code, level.exits, ())
        )
        names = [one.id for one in self.flow.levels]
        self.assertEqual(names.index("net_loft"), names.index("pan_row") + 1)
        self.assertEqual(self.flow.level("gull_stair").exits, ways_in)
        self.trigger("paste")  # now it is a copy
        self.say_yes()
        self.assertEqual(sum(one.copied_from == "net_loft" for one in self.flow.levels), 1)

    def test_what_is_cut_and_pasted_stays_based_on_its_pattern(self):
        cell = play_level("cell", way("out", "won"))
        self.take(
            flow({"id": "a", "pattern": "cell", "name": "Cell"}, play_level("b", way("x", "won")), patterns=[cell])
        )
        before = self.flow.level("a")
        self.window.selection.select("a")
        self.trigger("cut")
        self.say_yes()
        self.window.selection.select("b")
        self.trigger("paste")
        self.say_yes()
        self.assertEqual([level.id for level in self.flow.levels], ["b", "a"])
        self.assertEqual(self.flow.level("a"), before)

    def test_duplicating_offers_to_number_the_original(self):
        self.take(flow(play_level("a", way("on", "won"), name="Level", code="1-1")))
        self.window.selection.select("a")
        self.trigger("duplicate")
        bar = self.window.proposal_bar
        self.assertEqual(bar.proposal.edit.after.level("a").name, "Level 1")
        bar.yes.click()
        self.assertEqual([level.name for level in self.flow.levels], ["Level 1", "Level 2"])
        self.trigger("duplicate")  # a number at the end goes on by itself
        self.assertIsNone(bar.proposal)

    def test_start_notes_promises_and_actors_in_sentences(self):
        self.open_demo()
        window = self.window
        window.faces.turn(window.faces.faces.index(window.game))
        game = window.game.sentences[0]
        blanks = {blank.what: blank for blank in game.findChildren(Blank) if not blank.isHidden()}
        self.assertIn("the first level", blanks)
        window.requests.door.edit("start", lambda f: edits.set_start(f, "slipway"))
        self.say_yes()
        blanks = {blank.what: blank for blank in game.findChildren(Blank) if not blank.isHidden()}
        self.assertIn("The Slipway", blanks["the first level"].text())
        self.assertIn("the first spawn point", blanks)
        window.selection.select("slipway")
        notes = window.bench.level.notes
        notes.setFocus()
        QTest.keyClicks(notes, "Ropes here")
        window.bench.level.finish_typing()
        self.assertEqual(self.flow.level("slipway").notes, "Ropes here")
        window.document.undo()
        self.assertEqual(notes.toPlainText(), "")
        promise = self.flow.promises[0]
        window.requests.upkeep.set_promise(promise.id, name="Dry lamp")
        self.assertEqual(self.flow.promises[0].name, "Dry lamp")
        actors = window.game.sentences[3]
        self.person.answers["New actor"] = "Crab"
        actors._new_actor()
        self.assertIn("crab", self.flow.actors)
        self.person.answers["New actor"] = "player"
        actors._new_actor()
        self.assertIn("the player is always there", self.person.told[-1])
        window.requests.levels.set("slipway", cast=("crab",))
        actors._rename_actor("crab", "Shore crab")
        self.assertEqual((self.flow.actors[-1], self.flow.level("slipway").cast), ("shore_crab", ("shore_crab",)))

    def test_transitions_are_copied_pasted_and_removed(self):
        self.open_demo()
        window = self.window
        window.faces.turn(window.faces.faces.index(window.transitions))
        rows = window.transitions.rows
        first = rows.rows[0][0]
        rows.setFocus()
        self.key(rows, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
        window.clipboard.paste()
        copy = self.flow.transitions[-1]
        self.assertEqual((copy.steps, copy.name), (first.steps, f"{first.name} 2"))
        rows.at = 0
        self.key(rows, Qt.Key.Key_Delete)
        self.say_yes()
        self.assertNotIn(first.id, {one.id for one in self.flow.transitions})
        used = {exit_.transition for level in self.flow.levels for exit_ in level.exits}
        self.assertNotIn(first.id, used)

    def test_one_of_the_usual_screens_is_made_with_its_ways_in(self):
        self.take(flow(play_level("a", way("on", "won", completes=True)), play_level("b", way("on", "won"))))
        self.window.selection.select("b")
        self.trigger("usual_screen")
        popup = open_popup()
        QTest.keyClicks(popup.findChild(QLineEdit), "retry")
        self.key(popup.findChild(QLineEdit), Qt.Key.Key_Return)
        self.say_yes()
        retry = self.flow.level("try_again")
        self.assertEqual([exit_.to.kind for exit_ in retry.exits], ["back"])
        self.assertEqual([lv.exits[-1].trigger.kind for lv in self.flow.levels if lv.kind == "play"], ["fail", "fail"])
        self.assertEqual(self.window.selection.level_id, "try_again")
        self.window.document.undo()
        self.assertEqual([level.id for level in self.flow.levels], ["a", "b"])

    def test_a_run_without_a_region_is_renumbered(self):
        self.take(flow(*[play_level(name, way("on", "won"), code=f"x{name}") for name in "abc"]))
        self.window.selection.select("b")
        self.person.answers["Renumber"] = "3-1"
        self.trigger("renumber")
        self.assertEqual([level.code for level in self.flow.levels], ["3-1", "3-2", "3-3"])


class Findings(PlanningCase):
    @property
    def flow(self):
        return self.window.document.flow

    def test_a_repair_is_shown_before_it_is_made(self):
        self.open_demo("tidewick_unfinished")
        self.settle()
        finding = next(f for f in self.window.result.findings if f.check == "exit-buried")
        card = self.window.survey_column.choose(finding)
        before = self.flow
        card.repaired.emit()
        self.assertIs(self.flow, before)
        bar = self.window.proposal_bar
        told = bar._told
        self.assertIn("Changes: Bell Foundry, Down to the raft: area", told.text())
        self.wait_until(lambda: "Tried: it mends this" in told.text(), "the trial of the repair")
        self.assertIsNotNone(self.window.bench.crossing.left._proposed)
        bar.yes.click()
        self.assertIsNot(self.flow, before)
        self.assertIsNone(self.window.bench.crossing.left._proposed)
        self.settle()
        self.assertNotIn("exit-buried", {f.check for f in self.window.result.findings})
        self.window.document.undo()
        self.assertEqual(self.flow, before)

    def test_where_a_repair_would_lead_is_drawn_on_the_map(self):
        self.open_demo("tidewick_unfinished")
        self.settle()
        finding = next(f for f in self.window.result.findings if f.check == "exit-unconnected")
        self.window.finding_actions.repair(finding)
        view = self.window.map
        ((start, end),) = view.scene.outlines(view._proposed)
        self.assertTrue(view.scene.cards["weigh_house"].placed.rect.contains(start))
        self.assertTrue(view.scene.cards["rope_walk"].placed.rect.contains(end))
        view.grab()
        self.window.proposal_bar.dismiss()
        self.assertIsNone(view._proposed)

    def test_another_edit_withdraws_a_repair_and_its_trial(self):
        self.open_demo("tidewick_unfinished")
        self.settle()
        finding = next(f for f in self.window.result.findings if f.check == "exit-unconnected")
        told = []
        self.window.finding_actions.trial.told.connect(told.append)
        self.window.finding_actions.repair(finding)
        self.assertTrue(self.window.finding_actions.trial.busy)
        self.window.requests.levels.set("slipway", name="Slip")
        bar, window = self.window.proposal_bar, self.window
        self.assertEqual((bar.isVisibleTo(window), bar.proposal), (False, None))
        self.assertEqual([view._proposed for view in (window.map, window.bench.crossing.left, window.plan.canvas)],
                         [None] * 3)  # fmt: skip
        self.wait_until(lambda: not window.finding_actions.trial.busy, "the trial to end")
        self.assertEqual(told, [])

    def test_the_text_of_a_repair_is_never_cut(self):
        self.open_demo("tidewick_unfinished")
        self.settle()
        for finding in self.window.result.findings:
            card = self.window.survey_column.choose(finding)
            if card.finding.repair and not card.finding.waived:
                told = [label for label in card.findChildren(Label) if card.finding.repair.label in label.text()]
                self.assertTrue(told and all(label.wordWrap() for label in told), card.finding.check)

    def test_a_checklist_item_is_one_finding(self):
        f = replace(flow(*[play_level(name, way("on", "won")) for name in "abc"]),
                    checklist=(ChecklistItem(id="music", text="Music", kinds=("play",)),))  # fmt: skip
        self.window.document.take(f)
        self.settle()
        found = [one for one in self.window.result.findings if one.check == "checklist-open"]
        self.assertEqual([one.at for one in found], [("a", "b", "c")])
        self.window.requests.door.edit("accept", lambda now: edits.accept(now, "checklist-open", "b", "no music"))
        self.settle()
        found = [one for one in self.window.result.findings if one.check == "checklist-open"]
        self.assertEqual([(one.at, one.waived) for one in found], [(("a", "c"), "")])
        self.window.requests.findings.accept((found[0],), "silence")
        self.settle()
        found = [one for one in self.window.result.findings if one.check in ("checklist-open", "waiver-idle")]
        self.assertEqual([(one.at, bool(one.waived)) for one in found], [(("a", "b", "c"), True)])
        self.window.requests.findings.withdraw((found[0],))
        self.assertEqual(self.flow.waivers, ())

    def test_tab_goes_from_the_strip_to_the_bench_and_then_to_the_survey(self):
        self.open_demo("tidewick_unfinished")
        self.settle()
        window = self.window
        window.activateWindow()
        window.selection.select("slipway")
        window.strip.setFocus()
        bands = []
        for _ in range(60):
            window.focusNextPrevChild(True)
            focused = QGuiApplication.instance().focusWidget()
            for name, band in (("bench", window.bench), ("survey", window.survey_column)):
                if band.isAncestorOf(focused) and (not bands or bands[-1] != name):
                    bands.append(name)
        self.assertEqual(bands[:2], ["bench", "survey"])

    def test_looking_at_a_copy_leaves_a_saved_file_saved(self):
        self.open_demo()
        self.window.selection.select("slipway")
        self.window.requests.levels.duplicate()
        self.say_yes()
        document = self.window.document
        document._clean = document.flow  # as after saving
        copy = next(level for level in self.flow.levels if level.copied_from == "slipway")
        self.window.requests.door.amend(lambda now: edits.looked_at(now, copy.id, copy.unreviewed[0]))
        self.assertLess(len(self.flow.level(copy.id).unreviewed), len(copy.unreviewed))
        self.assertFalse(document.edited)

    def test_values_of_plans_steps_and_the_start_can_be_for_testing(self):
        self.open_demo()
        upkeep = self.window.requests.upkeep
        for at in ("levels.slipway.spawns.west.x", "levels.slipway.exits.east_gate.area.0",
                   "transitions.slow_fade.steps.0.lasts", "start.level"):  # fmt: skip
            upkeep.for_testing(at)
            self.assertEqual(self.flow.trial_settings[-1].at, at)
        self.settle()
        self.assertEqual(sum(f.check == "trial-setting" for f in self.window.result.findings), 4)
        self.assertEqual([f.severity for f in self.window.result.findings if f.check == "trial-setting"], ["hint"] * 4)

    def test_names_as_seen_are_taken_in_conditions(self):
        self.window.document.take(replace(flow(play_level("a", way("on", "won"))), facts=(
            Fact(id="brass", name="Bell clapper", kind="flag"), Fact(id="oil", name="Oil flasks", kind="count")),
            levels=(Level(id="a", name="The Slipway", exits=flow(play_level("a", way("on", "won"))).levels[0].exits),)))  # fmt: skip
        self.settle()
        self.window.selection.select("a", "on")
        sentence = self.window.bench.crossing.sentence
        blank = next(b for b in sentence.findChildren(Blank) if b.what == "the unlock condition")
        popup = blank.open_picker()
        for text, problem in (("has Bell clapper and at least 2 oil flasks", ""), ("seen The Slipway", ""),
                              ("has Oil flasks", "Oil flasks is a count: at least 1 oil"),
                              ("has Bel clapper", None)):  # fmt: skip
            told = popup._problem(text)
            self.assertEqual(told, problem, text) if problem is not None else self.assertTrue(told)
        popup._line.setText("has Bell clapper and at least 2 Oil flasks")
        popup._on_enter()
        self.assertEqual(self.flow.level("a").exit("on").opens, "has brass and at least 2 oil")

    def test_otherwise_offers_what_does_not_exist_yet(self):
        self.open_demo()
        self.window.selection.select("net_loft", "hatch")
        requests = self.window.requests.crossings
        requests.lead(Destination(kind="next"))
        requests.lead_to_new_ending("Elsewhere", 1)
        to = self.flow.level("net_loft").exit("hatch").to
        self.assertEqual((to.kind, to.otherwise.kind), ("next", "end"))
