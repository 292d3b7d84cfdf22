"""Every blank of every sentence, filled by keyboard."""

import unittest

from PyQt6 import sip
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QContextMenuEvent, QResizeEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit, QListWidget, QMenu, QStyleOptionButton

from mossy_bridge.desk.plan.numbers import NumberField
from mossy_bridge.desk.sentences.blank import Blank
from mossy_bridge.language.completion import condition_candidates, effect_candidates
from mossy_bridge.plan.laying import Part
from tests.support.build import flow, play_level
from tests.support.qt import DeskCase, open_popup

CONTROL = Qt.KeyboardModifier.ControlModifier


class Completion(unittest.TestCase):
    FLOW = flow(play_level("quay"), play_level("pan"), facts=("rope", "oil:5", "tide=ebb,flood"))

    def test_what_fits_next_in_a_condition(self):
        for text, wanted in (
            ("", "always"),
            ("ha", "has"),
            ("has ", "rope"),
            ("at ", "least"),
            ("at least ", "1"),
            ("at least 2 ", "oil"),
            ("tide ", "is"),
            ("tide is ", "ebb"),
            ("tide is not f", "flood"),
            ("seen ", "quay"),
            ("has rope ", "and"),
            ("has rope and la", "lacks"),
        ):
            with self.subTest(text):
                self.assertEqual(condition_candidates(self.FLOW, text)[1][0].text, wanted)
        self.assertNotIn("rope", [one.text for one in condition_candidates(self.FLOW, "at least 2 ")[1]])

    def test_what_fits_next_in_effects(self):
        for text, wanted in (
            ("", "gain"),
            ("gain ", "rope"),
            ("add ", "1"),
            ("add 1 ", "oil"),
            ("set oil ", "to"),
            ("raise oil to ", "1"),
            ("turn tide to ", "ebb"),
            ("gain rope, ta", "take"),
            ("clear ti", "tide"),
        ):
            with self.subTest(text):
                self.assertEqual(effect_candidates(self.FLOW, text)[1][0].text, wanted)

    def test_no_facts_no_words_about_them(self):
        bare = flow(play_level("a"))
        self.assertNotIn("has", [one.text for one in condition_candidates(bare, "")[1]])
        self.assertEqual(effect_candidates(bare, "")[1], [])


class SentenceCase(DeskCase):
    def blank(self, what):
        page = self.window.bench.page
        return next(b for b in page.findChildren(Blank) if b.isVisible() and b.what == what)

    def fill(self, what, *keys):
        """Opens a blank and types; a key that is no text is pressed."""
        self.blank(what).click()
        popup = open_popup()
        if popup is None:
            return
        field = popup.findChild(QLineEdit)
        for key in keys or (Qt.Key.Key_Return,):
            if isinstance(key, str):
                field.selectAll()
                QTest.keyClicks(field, key)
            else:
                QTest.keyClick(field, key)
        QApplication.processEvents()

    def type_in(self, what, text):
        self.fill(what, text, Qt.Key.Key_Return)


class CrossingSentence(SentenceCase):
    def setUp(self):
        super().setUp()
        self.open_demo()
        self.window.selection.select("bell_sands", "east_gate")

    @property
    def exit(self):
        return self.window.document.flow.level("bell_sands").exit("east_gate")

    def test_a_blank_with_little_room_shows_the_beginning_of_its_text(self):
        blank = Blank()
        blank.fill("the place", "At the far end of the drowned causeway", None)
        wide, option = blank.sizeHint().width(), QStyleOptionButton()
        for width, ending in ((wide, "causeway"), (wide // 2, "…"), (wide + 10, "causeway")):
            blank.resize(width, 24)
            QApplication.sendEvent(blank, QResizeEvent(blank.size(), blank.size()))
            blank.initStyleOption(option)
            self.assertTrue(option.text.startswith("At the"), option.text)
            self.assertTrue(option.text.endswith(ending), option.text)
            self.assertEqual(blank.sizeHint().width(), wide)

    def test_what_sets_it_off(self):
        self.type_in("what sets it off", "time run out")
        self.type_in("the seconds", "2.5")
        self.assertEqual((self.exit.trigger.kind, self.exit.trigger.seconds), ("timer", 2.5))
        self.type_in("the seconds", "-1")
        self.assertEqual(self.exit.trigger.seconds, 2.5)
        open_popup().close()
        self.type_in("what sets it off", "walks")
        self.fill("whether it is armed on arrival")
        self.assertFalse(self.exit.trigger.armed_on_arrival)
        self.type_in("when it is set off", "has rope")
        self.assertEqual(self.exit.trigger.when, "has rope")
        self.type_in("the exit's name", "Sea gate")
        self.assertEqual((self.exit.name, self.exit.id), ("Sea gate", "east_gate"))

    def test_who_sets_it_off_is_ticked(self):
        from msgspec.structs import replace

        self.window.requests.door.edit("actors", lambda f: replace(f, actors=("player", "crab")))
        self.fill("who sets it off", Qt.Key.Key_Down, Qt.Key.Key_Space, Qt.Key.Key_Return)
        self.assertEqual(self.exit.trigger.by, ("player", "crab"))

    def test_what_comes_of_it(self):
        self.type_in("the unlock condition", "at least 2 oil and has clapper")
        self.fill("whether it completes the level")
        self.fill("whether a new run begins")
        self.type_in("the effects", "gain rope; add 1 oil")
        self.assertEqual(self.exit.opens, "at least 2 oil and has clapper")
        self.assertEqual((self.exit.completes, self.exit.fresh), (False, True))
        self.assertEqual(self.exit.effects, ("gain rope", "add 1 oil"))
        for _ in range(4):
            self.key(self.window, Qt.Key.Key_Z, CONTROL)
        self.assertEqual(self.window.document.undo_name, "")

    def test_a_wrong_condition_is_told_and_not_taken(self):
        self.type_in("the unlock condition", "has clappr")
        popup = open_popup()
        self.assertIn("did you mean clapper", popup._note.text())
        self.assertEqual(self.exit.opens, "always")
        field = popup.findChild(QLineEdit)
        field.selectAll()
        QTest.keyClicks(field, "has cl")
        QTest.keyClick(field, Qt.Key.Key_Tab)
        self.assertEqual(field.text(), "has clapper ")
        self.assertIn("Holds when: has Bell clapper", popup._note.text())
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.assertEqual(self.exit.opens, "has clapper")

    def test_a_condition_by_mouse_alone(self):
        self.blank("the unlock condition").click()
        popup = open_popup()
        listed = popup.findChild(QListWidget)
        for word in ("has", "rope"):
            item = next(listed.item(i) for i in range(listed.count()) if listed.item(i).text().split()[0] == word)
            listed.itemClicked.emit(item)
        popup._on_enter()
        self.assertEqual(self.exit.opens, "has rope")

    def test_where_it_leads_with_otherwise(self):
        self.type_in("the level", "the next level")
        self.type_in("the level otherwise 1", "lamp is lit")
        to = self.exit.to
        self.assertEqual((to.kind, to.otherwise.kind, to.otherwise.ending), ("next", "end", "lamp_lit"))
        self.type_in("the level", "new level")
        if self.window.proposal_bar.isVisible():
            self.agree()
        self.assertEqual(self.exit.to.level, "new_level")
        self.type_in("the spawn point", "new spawn")
        self.assertEqual(self.exit.to.spawn, "from_bell_sands")
        self.type_in("the transition", "new transition")
        self.assertEqual(self.exit.transition, "transition_4")
        self.type_in("the level", "nowhere")
        self.assertIsNone(self.exit.to)


class Testing(SentenceCase):
    def pick_from_menu(self, widget, words):
        """Opens the context menu of a widget by a right click, and picks by Enter."""

        def choose():
            menu = open_popup()
            if not isinstance(menu, QMenu):
                return QTimer.singleShot(5, choose)
            wanted = [action for action in menu.actions() if action.text().startswith(words)]
            if not wanted:
                return menu.close()
            menu.setActiveAction(wanted[0])
            return QTest.keyClick(menu, Qt.Key.Key_Return)

        QTimer.singleShot(5, choose)
        at = widget.rect().center()
        event = QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, widget.mapToGlobal(at))
        QApplication.sendEvent(widget, event)

    def test_conditions_and_places_are_kept_for_delivery_from_their_menus(self):
        self.open_demo()
        self.window.selection.select("eel_sluice", "loft_door")
        self.pick_from_menu(self.blank("the unlock condition"), "Keep this value for delivery")
        self.window.selection.select_parts("eel_sluice", [Part("spawns", "top")])
        number = next(one for one in self.window.findChildren(NumberField) if one.isVisible() and one.testing)
        before = number.text()
        self.pick_from_menu(number, "Keep this value for delivery")
        kept = {setting.at: setting.ships_as for setting in self.window.document.flow.trial_settings}
        self.assertEqual(kept.keys(), {"levels.eel_sluice.exits.loft_door.opens", "levels.eel_sluice.spawns.top.x"})
        self.assertEqual(kept["levels.eel_sluice.spawns.top.x"], float(before))
        fields = [one for one in self.window.findChildren(NumberField) if one.isVisible() and one.testing]
        self.pick_from_menu(next(one for one in fields if one.testing.ships_as), "Deliver the value tried")
        self.assertEqual(len(self.window.document.flow.trial_settings), 1)

    def test_a_value_is_kept_for_delivery_tried_and_put_back(self):
        self.open_demo()
        self.window.selection.select("eel_sluice", "loft_door")
        menu = self.blank("the unlock condition").testing_menu()
        menu.actions()[0].trigger()
        self.type_in("the unlock condition", "always")
        self.assertIn("test", self.blank("the unlock condition").text())
        setting = self.window.document.flow.trial_settings[0]
        self.assertEqual((setting.at, setting.ships_as), ("levels.eel_sluice.exits.loft_door.opens", "tide is ebb"))
        self.window.faces.turn_to(self.window.testing)
        self.assertEqual(len(self.window.testing.sentences), 1)
        blanks = {blank.what: blank for blank in self.window.testing.sentences[0].blanks()}
        self.assertEqual(blanks["the value to deliver"].text(), "tide is ebb")
        with self.subTest("what is used stands until it has been answered"):
            blank = blanks["the value to deliver"]
            blank.click()
            popup = open_popup()
            field = popup.findChild(QLineEdit)
            field.setText("tide is flood")
            QTest.keyClick(field, Qt.Key.Key_Return)
            self.assertFalse(sip.isdeleted(blank) or sip.isdeleted(popup) or sip.isdeleted(field))
            self.assertEqual(self.window.document.flow.trial_settings[0].ships_as, "tide is flood")
        self.window.document.undo()
        blanks = {blank.what: blank for blank in self.window.testing.sentences[0].blanks()}
        blanks["put back"].click()
        self.assertFalse(sip.isdeleted(blanks["put back"]))
        self.assertEqual(self.window.document.flow.level("eel_sluice").exit("loft_door").opens, "tide is ebb")
        self.assertEqual(self.window.document.flow.trial_settings, ())

    def test_numbers_and_switches_too(self):
        self.open_demo()
        self.window.selection.select("slipway", "east_gate")
        self.blank("whether it completes the level").testing_menu().actions()[0].trigger()
        self.fill("whether it completes the level")
        self.assertEqual(self.window.document.flow.trial_settings[0].ships_as, True)
        self.window.requests.upkeep.set_ships_as("levels.slipway.minutes", 4.0, "")
        self.window.faces.turn_to(self.window.testing)
        number = self.window.testing.sentences[1].blanks()[1]
        self.assertEqual(number.text(), "4")
        self.window.requests.upkeep.put_back("levels.slipway.minutes")
        self.blank("whether it completes the level").testing_menu().actions()[1].trigger()
        self.assertEqual(self.window.document.flow.trial_settings, ())
        self.assertFalse(self.window.document.flow.level("slipway").exit("east_gate").completes)


class Others(SentenceCase):
    def test_a_level(self):
        self.open_demo()
        self.window.selection.select("credits")
        self.type_in("the status", "draft")
        self.type_in("the minutes", "3.5")
        self.type_in("the difficulty", "4")
        self.type_in("when it opens", "has rope")
        self.type_in("what changes on arrival", "gain lit")
        self.type_in("the file", "screens/credits.map")
        level = self.window.document.flow.level("credits")
        self.assertEqual((level.status, level.minutes, level.difficulty), ("draft", 3.5, 4))
        self.assertEqual(
            (level.opens, level.on_arrival, level.file), ("has rope", ("gain lit",), "screens/credits.map")
        )

    def test_deeds_spawn_points_zones_and_paths(self):
        self.open_demo()
        window = self.window
        window.selection.select_parts("eel_sluice", [Part("deeds", "turn_wheel")])
        self.type_in("how often", "visit")
        self.type_in("what it changes", "gain rope")
        self.type_in("the checkpoint", "far bank")
        self.fill("whether it saves")
        deed = window.document.flow.level("eel_sluice").deed("turn_wheel")
        self.assertEqual(
            (deed.repeats, deed.effects, deed.checkpoint, deed.saves), ("visit", ("gain rope",), "east", True)
        )
        window.selection.select_parts("eel_sluice", [Part("spawns", "west")])
        self.type_in("where it faces", "left")
        self.type_in("the zone", "on the")
        spawn = window.document.flow.level("eel_sluice").spawn("west")
        self.assertEqual((spawn.faces, spawn.zone), ("left", "top"))
        window.selection.select("eel_sluice")
        self.person.answers["New zone"] = "Loft"
        self.type_in("zones", "new zone")
        self.type_in("paths", "from Loft to On")
        self.type_in("path 1 condition", "has rope")
        path = window.document.flow.level("eel_sluice").paths[1]
        self.assertEqual((path.start, path.end, path.when), ("loft", "top", "has rope"))

    def test_several_levels_and_crossings_at_once(self):
        self.open_demo()
        window = self.window
        window.selection.select_levels(["slipway", "bell_sands", "gull_stair"])
        self.type_in("the region", "light")
        self.type_in("the status", "planned")
        self.type_in("the transition", "quick")
        levels = [window.document.flow.level(name) for name in ("slipway", "bell_sands", "gull_stair")]
        self.assertEqual({(level.region, level.status) for level in levels}, {("light", "planned")})
        self.assertEqual({exit_.transition for level in levels for exit_ in level.exits}, {"quick_cut"})
        window.selection.select("slipway", "east_gate")
        window.selection.toggle_crossing("net_loft", window.document.flow.level("net_loft").exits[0].id)
        self.type_in("what sets them off", "presses")
        kinds = {window.document.flow.level(lv).exit(name).trigger.kind for lv, name in window.selection.crossings}
        self.assertEqual(kinds, {"press"})
        self.assertEqual(len(window.selection.crossings), 2)


if __name__ == "__main__":
    unittest.main()
