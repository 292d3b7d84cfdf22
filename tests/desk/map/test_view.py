"""The map by hand: joining, choosing several, opening, menus, tips; and what the level's bench lists."""

import unittest
from unittest import mock

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRect, QRectF, QSettings, Qt
from PyQt6.QtGui import QHelpEvent, QMouseEvent, QWheelEvent
from PyQt6.QtWidgets import QApplication, QCheckBox

from mossy_bridge.desk.bench import several
from mossy_bridge.desk.map import painting
from mossy_bridge.desk.map.cards import Card
from mossy_bridge.desk.map.gestures import spawn_aimed_at
from mossy_bridge.desk.map.placing import exit_rect, landing_point
from mossy_bridge.desk.session.selection import Selected
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.window import Window
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits.levels import add_level, connect
from mossy_bridge.model.edits.patterns import base_on, make_pattern
from mossy_bridge.plan.laying import Part
from tests.support.qt import DeskCase

CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class MapCase(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()
        self.map = self.window.map
        self.map.fit()
        self.map.zoom(0.8 / self.map.scale)
        self.map.centre_on(self.map.card_of("bell_sands").placed.rect.center())

    def door(self, level, exit_):
        card = self.map.card_of(level)
        return self.on_map(exit_rect(card.placed, card.placed.level.exit(exit_), True).center())

    def title_of(self, level):
        return self.on_map(self.map.card_of(level).placed.rect.topLeft() + QPointF(60, 10))


class Opened(DeskCase):
    def test_a_flow_that_is_opened_as_the_window_appears_is_in_view(self):
        self.window.close()
        self.window.deleteLater()
        settings = QSettings(str(self.folder / "settings.ini"), QSettings.Format.IniFormat)
        self.window = Window(self.look, settings, self.person)
        self.window.resize(1280, 800)
        self.window.show()
        self.window.files.open_demo()  # before the map has got its size
        self.wait_until(lambda: self.window.result is not None, "the survey")
        self.settle()
        shown = self.window.map
        self.wait_until(lambda: shown.area().intersects(shown.card_of("title").placed.rect), "the start in view", 5)


class Shown(MapCase):
    def beside(self, level):
        """Where a level's card lies, from the middle of the view."""
        return self.map.card_of(level).placed.rect.center() - self.map.camera.centre

    def test_a_level_is_not_shown_below_the_map_in_small(self):
        card, small = self.map.card_of("bell_sands").placed.rect, self.map.small_map
        self.assertTrue(small.isValid())
        away = (small.center() - QPointF(self.map.rect().center())) / self.map.scale
        self.map.centre_on(card.center() - away)
        self.assertTrue(self.map.area().contains(card))
        self.assertTrue(small.contains(QPointF(self.map.pixel_of(card.center()))))
        self.map.show_level("bell_sands")
        corners = (QPointF(self.map.pixel_of(end)) for end in (card.topLeft(), card.bottomRight()))
        self.assertFalse(QRectF(*corners).intersects(small))

    def test_the_view_goes_with_the_selected_card_where_columns_come_and_go(self):
        self.window.selection.select("net_loft")
        self.settle()
        self.assertTrue(self.map.area().contains(self.map.card_of("net_loft").placed.rect))
        before, beside = self.window.result, self.beside("net_loft")
        self.window.requests.door.edit(
            "lead astray", lambda flow: connect(flow, "net_loft", "hatch", "gull_stair"), shown=True
        )
        self.wait_until(lambda: self.window.result is not before, "the survey")
        self.settle()  # the map follows after the findings
        self.assertGreater(len(self.window.result.findings), 10)
        self.assertLess((self.beside("net_loft") - beside).manhattanLength(), 2)

    def test_a_level_has_on_its_card_what_it_takes_from_its_pattern(self):
        def patterned(flow):
            flow, pattern = make_pattern(flow, "bell_sands", "Sands")
            flow = add_level(flow, "More Sands", "bell_sands")[0]
            return base_on(flow, ["more_sands"], pattern)

        self.window.requests.door.edit("base a level", patterned, shown=True)
        self.assertEqual(self.window.document.flow.level("more_sands").exits, ())
        exits = self.map.card_of("more_sands").placed.level.exits
        self.assertEqual([exit_.id for exit_ in exits], ["west_gate", "east_gate", "drown"])


class Seen(MapCase):
    def colour_in(self, level):
        """The colour of a level's card, beside its title."""
        at = self.on_map(self.map.card_of(level).placed.rect.topRight() + QPointF(-14, 12))
        self.map.grab()
        self.wait_until(lambda: self.map.complete, "the map is not painted")
        return self.map.grab().toImage().pixelColor(at).name()

    def rest_on(self, at):
        self.mouse(self.map, QEvent.Type.MouseMove, at, Qt.MouseButton.NoButton)

    def test_what_the_mouse_rests_on_comes_forward_and_all_else_steps_back(self):
        before = {level: self.colour_in(level) for level in ("bell_sands", "gull_stair", "mud_flats")}
        self.rest_on(self.title_of("bell_sands"))
        self.wait_until(lambda: self.colour_in("mud_flats") != before["mud_flats"], "nothing stepped back")
        self.assertEqual(self.colour_in("bell_sands"), before["bell_sands"])
        self.assertEqual(self.colour_in("gull_stair"), before["gull_stair"])  # joined to it
        QApplication.sendEvent(self.map, QEvent(QEvent.Type.Leave))
        self.assertEqual(self.colour_in("mud_flats"), before["mud_flats"])

    def test_a_padlock_opens_when_the_mouse_rests_on_its_bridge(self):
        bridge = next(b for b in self.map.scene.bridges.values() if b.lock and not b.quiet and not b.route.label)
        self.map.centre_on(QPointF(*bridge.route.lock))
        before = self.map.grab().toImage()
        at = self.on_map(QPointF(*bridge.route.lock))
        self.rest_on(at)
        ochre, above = self.window.look.colours.colour("suspicious").rgb(), QRect(at.x() - 40, at.y() - 26, 80, 14)

        def written(image):
            return sum(
                image.pixelColor(x, y).rgb() == ochre
                for x in range(above.left(), above.right())
                for y in range(above.top(), above.bottom())
            )

        self.wait_until(lambda: written(self.map.grab().toImage()) > written(before), "the condition is not told")

    def test_regions_have_grounds_in_their_tints(self):
        self.map.fit()

        def above(level):
            card = self.map.card_of(level).placed.rect
            return self.map.grab().toImage().pixelColor(self.on_map(QPointF(card.left() + 20, card.top() - 9)))

        self.assertNotEqual(above("bell_sands"), above("retry"))  # the retry screen belongs to no region
        self.window.requests.door.edit(
            "no region", lambda flow: edits.set_level(flow, "bell_sands", region=""), shown=True
        )
        self.wait_until(lambda: above("bell_sands") == above("retry"), "its ground is still that of the region")

    def test_the_small_map_leads_anywhere(self):
        self.map.fit()
        self.assertFalse(self.map.small_map.isValid())
        self.map.zoom(3)
        small = self.map.small_map
        self.assertTrue(small.isValid())
        self.click(self.map, QPoint(int(small.left() + 3), int(small.center().y())))
        self.assertLess(self.map.area().left(), self.map.scene.bounds().left() + 100)
        start, end = small.center().toPoint(), QPoint(int(small.right() - 3), int(small.center().y()))
        self.drag(self.map, start, end)
        self.assertGreater(self.map.area().right(), self.map.scene.bounds().right() - 100)
        self.assertEqual(self.window.document.undo_name, "")


class Chosen(MapCase):
    def picture(self):
        self.map.grab()
        self.wait_until(lambda: self.map.complete, "the map is not painted")
        return self.map.grab().toImage()

    def painted(self, most, scale):
        """The map with all levels selected, where more than some are many; and which cards were painted for that."""
        if abs(self.map.scale - scale) > 1e-6:
            self.map.zoom(scale / self.map.scale)
        with mock.patch.object(painting, "MANY", most):
            picture = self.picture()
            with mock.patch.object(Card, "paint", autospec=True) as paint:
                self.map.grab()  # all else is painted already
        return picture, {call.args[0].level_id for call in paint.call_args_list}

    def test_of_many_only_those_in_view_are_painted(self):
        self.window.selection.select_levels([level.id for level in self.window.document.flow.levels])
        few, all_painted = self.painted(1000, 0.8)
        many, painted = self.painted(3, 0.8)
        self.assertEqual(many, few)
        in_view = {card.level_id for card in self.map.scene.within(self.map.area())[0]}
        self.assertEqual((painted, len(all_painted)), (in_view, len(self.map.scene.cards)))
        self.assertLess(len(in_view), len(all_painted))

    def test_from_afar_many_are_ringed(self):
        self.window.selection.select("bell_sands")
        for scale in 0.3, 0.1:
            unchosen, _ = self.painted(3, scale)
            self.window.selection.select_levels([level.id for level in self.window.document.flow.levels])
            ringed, _ = self.painted(3, scale)
            route = self.look.colours.colour("route").rgb()
            at = self.map.pixel_of(self.map.card_of("eel_sluice").placed.rect.center())
            around = [(x, y) for x in range(at.x() - 16, at.x() + 17) for y in range(at.y() - 16, at.y() + 17)]
            count = [sum(image.pixel(*one) == route for one in around) for image in (unchosen, ringed)]
            self.assertEqual(count[0], 0)
            self.assertGreater(count[1], 5)
            self.window.selection.select("bell_sands")


class Hands(MapCase):
    def test_shift_drag_joins_there_and_back(self):
        self.drag(self.map, self.door("slipway", "east_gate"), self.title_of("mud_flats"), SHIFT)
        flow = self.window.document.flow
        self.assertEqual(flow.level("slipway").exit("to_mud_flats").to.spawn, "from_the_slipway")
        self.assertEqual(flow.level("mud_flats").exit("to_the_slipway").to.level, "slipway")
        self.assertEqual(flow.level("slipway").exit("east_gate").to.level, "bell_sands")
        self.assertEqual(self.window.document.undo_name, "join The Slipway and Mud Flats there and back")

    def test_control_chooses_several(self):
        self.click(self.map, self.title_of("bell_sands"))
        self.click(self.map, self.title_of("eel_sluice"), CONTROL)
        self.assertEqual(self.window.selection.levels, ("bell_sands", "eel_sluice"))
        self.assertIs(self.window.bench.page, self.window.bench.several)
        self.click(self.map, self.title_of("eel_sluice"), CONTROL)
        self.assertEqual(self.window.selection.levels, ("bell_sands",))
        self.click(self.map, self.door("bell_sands", "east_gate"))
        self.click(self.map, self.door("eel_sluice", "wicket"), CONTROL)
        self.assertEqual(len(self.window.selection.crossings), 2)
        self.map.grab()
        self.key(self.window, Qt.Key.Key_Delete)
        self.agree()  # for both are used
        flow = self.window.document.flow
        self.assertIsNone(flow.level("bell_sands").exit("east_gate"))
        self.assertIsNone(flow.level("eel_sluice").exit("wicket"))

    def test_a_bridge_is_chosen_by_a_click(self):
        bridge = self.map.scene.bridges["bell_sands", "east_gate", "gull_stair"]
        points = [bridge.line.at(t)[:2] for t in (0.3, 0.4, 0.5, 0.6)]
        free = next(QPointF(x, y) for x, y in points if self.map.scene.card_at(QPointF(x, y)) is None)
        self.click(self.map, self.on_map(free))
        self.assertEqual((self.window.selection.level_id, self.window.selection.exit_id), ("bell_sands", "east_gate"))

    def test_a_double_click_opens_the_plan_and_escape_comes_back(self):
        at = QPointF(self.title_of("bell_sands"))
        event = QMouseEvent(QEvent.Type.MouseButtonDblClick, at, at, Qt.MouseButton.LeftButton,
                            Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)  # fmt: skip
        QApplication.sendEvent(self.map, event)
        self.assertTrue(self.window.navigation.is_plan_open)
        self.assertEqual(self.window.plan.canvas.key, "bell_sands")
        self.key(self.window.plan.canvas, Qt.Key.Key_Escape)
        self.assertFalse(self.window.navigation.is_plan_open)
        self.key(self.map, Qt.Key.Key_Return)
        self.assertTrue(self.window.navigation.is_plan_open)

    def test_the_wheel_zooms_to_where_the_mouse_is(self):
        at = QPointF(300, 120)
        held = self.map.point_at(at)
        event = QWheelEvent(at, at, QPoint(), QPoint(0, 240), Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier,
                            Qt.ScrollPhase.NoScrollPhase, False)  # fmt: skip
        scale = self.map.scale
        QApplication.sendEvent(self.map, event)
        self.assertGreater(self.map.scale, scale)
        self.assertLess((self.map.point_at(at) - held).manhattanLength(), 1e-6)

    def test_tips_tell_doors_levels_and_bridges(self):
        self.assertIn(
            "East gate\nDrag it", self.map._told(self.map.point_at(QPointF(self.door("bell_sands", "east_gate"))))
        )
        self.assertIn("1-2 Bell Sands", self.map._told(self.map.point_at(QPointF(self.title_of("bell_sands")))))
        self.assertEqual(self.map._told(QPointF(-9000, -9000)), "")
        where = self.title_of("bell_sands")
        QApplication.sendEvent(self.map, QHelpEvent(QEvent.Type.ToolTip, where, self.map.mapToGlobal(where)))

    def test_a_moved_card_is_let_go(self):
        start = self.title_of("bell_sands")
        self.drag(self.map, start, start + QPoint(10, 60))
        self.assertIn("bell_sands", self.window.document.flow.map)
        self.key(self.window, Qt.Key.Key_M, CONTROL | Qt.KeyboardModifier.AltModifier)
        self.assertNotIn("bell_sands", self.window.document.flow.map)

    def test_landing_beside_a_spawn_point_means_it(self):
        card = self.map.card_of("bell_sands")
        point = landing_point(card.placed, "buoy", True)
        self.assertEqual(spawn_aimed_at(card, point, True), "buoy")
        self.assertEqual(spawn_aimed_at(card, card.placed.rect.topLeft(), True), "west")


class Bench(MapCase):
    def texts(self, column):
        return [link.words for link in column.findChildren(Link)]

    def test_ways_in_and_out_lead_on(self):
        level = self.window.bench.level
        self.window.selection.select("bell_sands")
        self.assertIn("The Slipway: East gate", self.texts(level._ways_in))
        next(link for link in level._ways_in.findChildren(Link) if link.words == "The Slipway: East gate").click()
        self.assertEqual((self.window.selection.level_id, self.window.selection.exit_id), ("slipway", "east_gate"))
        self.window.selection.select("bell_sands")
        next(link for link in level._inside.findChildren(Link) if "Ring the buoy" in link.words).click()
        self.assertEqual(self.window.selection.parts, (Part("deeds", "ring_buoy"),))
        self.window.selection.select("bell_sands")
        next(link for link in level._ways_out.findChildren(Link) if link.words.startswith("East gate")).click()
        self.assertEqual(self.window.selection.exit_id, "east_gate")
        self.assertIs(self.window.bench.page, self.window.bench.crossing)
        self.window.bench.crossing._titles[1].click()
        self.assertEqual(self.window.selection.level_id, "gull_stair")

    def test_ways_in_are_those_of_the_flow_as_it_is(self):
        ways_in, door = self.window.bench.level._ways_in, self.window.requests.door
        self.window.selection.select("bell_sands")
        before = self.texts(ways_in)
        door.edit("round", lambda flow: connect(flow, "bell_sands", "west_gate", "bell_sands"), shown=True)
        self.assertEqual(set(self.texts(ways_in)) - set(before), {"Bell Sands: West gate"})
        door.edit("away", lambda flow: connect(flow, "slipway", "east_gate", "mud_flats"), shown=True)
        self.assertNotIn("The Slipway: East gate", self.texts(ways_in))
        self.window.document.undo()
        self.window.document.undo()
        self.assertEqual(self.texts(ways_in), before)
        self.settle()
        self.window.selection.select("slipway")
        self.window.selection.select("bell_sands")
        self.assertEqual(self.texts(ways_in), before)

    def test_of_many_levels_the_first_are_named(self):
        names = [level.id for level in self.window.document.flow.levels[:8]]
        with mock.patch.object(several, "MOST_NAMES", 3):
            self.window.selection.select_levels(names)
            told = self.window.bench.several._list.text()
            titles = [self.window.document.flow.level(name).title for name in names]
            self.assertEqual(told, f"{', '.join(titles[:3])} and 5 more")
            self.window.selection.take(Selected("slipway", ("slipway",), (), (("slipway", "east_gate"),) * 7))
        self.assertTrue(self.window.bench.several._list.text().endswith("The Slipway: East gate and 4 more"))

    def test_a_copys_list_says_where_exits_lead_and_is_ticked_off(self):
        self.window.selection.select("credits")
        self.window.requests.levels.duplicate()
        self.window.proposal_bar.dismiss()  # of the offer to number the original
        boxes = self.window.bench.level._inside.findChildren(QCheckBox)
        self.assertEqual(
            [box.accessibleName() for box in boxes],
            ["exit Lamp → The lamp is lit", "exit Bell → The bell guides them home"],
        )
        boxes[0].click()
        self.assertEqual(self.window.document.flow.level(self.window.selection.level_id).unreviewed, ("exit bell",))
        next(link for link in self.window.bench.level._inside.findChildren(Link) if "All of it" in link.words).click()
        self.assertEqual(self.window.document.flow.level(self.window.selection.level_id).unreviewed, ())

    def test_the_checklist_is_ticked_on_the_bench(self):
        self.window.requests.upkeep.add_item("Has music")
        self.window.requests.upkeep.add_item("The bell can be heard from every door, even in a storm at night")
        self.window.selection.select("bell_sands")
        self.settle()
        music, bell = self.window.bench.level._inside.findChildren(QCheckBox)
        self.assertTrue(bell.text().endswith("…"))
        self.assertTrue(bell.toolTip().endswith("at night"))
        music.click()
        self.assertEqual(self.window.document.flow.level("bell_sands").ticked, ("has_music",))

    def test_both_banks_are_edited_by_hand(self):
        self.window.selection.select("slipway", "east_gate")
        self.settle()
        right = self.window.bench.crossing.right
        self.assertEqual((right.key, right.parts), ("bell_sands", (Part("spawns", "west"),)))
        frame = right.frame()
        start = frame.point(4, 15.2).toPoint()
        self.drag(right, start, start + QPoint(round(4 * frame.scale), 0))
        self.assertEqual(self.window.document.flow.level("bell_sands").spawn("west").x, 8)
        self.assertEqual(self.window.selection.exit_id, "east_gate")
        left = self.window.bench.crossing.left
        left.setFocus()
        self.key(left, Qt.Key.Key_Left)
        self.assertEqual(self.window.document.flow.level("slipway").exit("east_gate").area[0], 61.5)
        self.assertAlmostEqual(left.frame().scale, right.frame().scale)

    def test_what_is_gone_is_no_longer_selected(self):
        self.window.selection.select("slipway", "east_gate")
        self.window.requests.door.edit(
            "gone", lambda flow: edits.remove_thing(flow, "slipway", "exits", "east_gate"), shown=True
        )
        self.assertEqual((self.window.selection.level_id, self.window.selection.exit_id), ("slipway", ""))
        self.window.requests.door.edit("gone", lambda flow: edits.remove_levels(flow, ["slipway"]))
        self.agree()
        self.assertEqual(self.window.selection.level_id, "")


if __name__ == "__main__":
    unittest.main()
