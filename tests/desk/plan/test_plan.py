"""Plans laid out by hand and by number."""

import os
import unittest

from PyQt6.QtCore import QEvent, QPoint, QRectF, Qt
from PyQt6.QtGui import QColor, QGuiApplication, QImage, QPainter
from PyQt6.QtTest import QTest

from mossy_bridge.desk.plan.numbers import NumberField
from mossy_bridge.desk.plan.painting import unplaced
from mossy_bridge.desk.plan.pictures import PICTURES
from mossy_bridge.desk.plan.screen import messages_on
from mossy_bridge.plan.laying import Part
from tests.support.qt import DeskCase

CONTROL, SHIFT, ALT = (Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier,
                       Qt.KeyboardModifier.AltModifier)  # fmt: skip


class PlanCase(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()
        self.window.navigation.open_plan("bell_sands")
        self.settle()
        self.canvas = self.window.plan.canvas

    @property
    def level(self):
        return self.window.document.flow.level("bell_sands")

    def at(self, x, y):
        return self.canvas.frame().point(x, y).toPoint()


class Screens(DeskCase):
    """The choices of a screen, laid out by themselves until one of them is moved."""

    def setUp(self):
        super().setUp()
        self.open_demo()
        self.settle()
        self.window.selection.select("retry")

    @property
    def screen(self):
        return self.window.document.flow.level("retry")

    def areas(self, canvas):
        return {exit_.id: exit_.area for exit_ in canvas.level.exits}

    def test_a_choice_is_moved_on_the_bench_and_the_others_keep_their_places(self):
        canvas = self.window.bench.level.plan
        before = self.areas(canvas)
        x, y, _, height = before["again"]
        at = canvas.frame().point(x + 2, y + height / 2).toPoint()
        self.drag(canvas, at, canvas.frame().point(x + 2 - 5, y + height / 2 - 2).toPoint())
        areas = {exit_.id: exit_.area for exit_ in self.screen.exits}
        self.assertEqual(areas["give_up"], before["give_up"])
        self.assertAlmostEqual(areas["again"][0], x - 5, delta=1)
        self.assertEqual(self.window.document.undo_name, "move Try again")
        self.settle()
        self.assertEqual(self.window.result.findings, [])
        self.window.document.undo()
        self.assertIsNone(self.screen.plan)

    def test_a_click_chooses_and_arrow_keys_move(self):
        canvas = self.window.bench.level.plan
        x, y, width, height = self.areas(canvas)["give_up"]
        self.click(canvas, canvas.frame().point(x + width / 2, y + height / 2).toPoint())
        self.assertEqual(self.window.selection.exit_id, "give_up")
        self.window.navigation.open_plan("retry")
        self.window.selection.select_parts("retry", [Part("exits", "give_up")])
        self.key(self.window.plan.canvas, Qt.Key.Key_Down)
        self.assertGreater(self.screen.exit("give_up").area[1], y)
        self.assertEqual(self.screen.exit("give_up").area[0], x)

    def test_what_is_said_on_the_way_stands_on_the_screen(self):
        self.assertEqual(messages_on(self.window.document.flow, self.window.document.flow.level("title")), [])
        told = messages_on(self.window.document.flow, self.window.document.flow.level("level_done"))
        steps = [step for one in self.window.document.flow.transitions for step in one.steps if step.text]
        self.assertTrue(told)
        self.assertLessEqual(set(told), {step.text for step in steps})


class ByHand(PlanCase):
    def test_moving_a_door_snaps_and_is_one_step(self):
        self.drag(self.canvas, self.at(47, 14), self.at(41.1, 14.05))
        self.assertEqual(self.level.exit("east_gate").area, (40, 12, 2, 4))
        self.assertEqual(self.window.document.undo_name, "move East gate")
        self.key(self.window, Qt.Key.Key_Z, CONTROL)
        self.assertEqual(self.level.exit("east_gate").area, (46, 12, 2, 4))
        self.assertTrue(self.window.navigation.is_plan_open)
        self.assertEqual(self.window.selection.exit_id, "east_gate")

    def test_an_exit_without_an_area_waits_at_the_top_to_be_chosen(self):
        self.window.selection.select("bell_sands", "east_gate")
        self.window.requests.crossings.set("the area", area=(0, 0, 0, 0))
        self.window.selection.select("bell_sands", "west_gate")
        ((exit_, waiting),) = unplaced(self.level, self.canvas.frame())
        self.assertEqual(exit_.id, "east_gate")
        image = self.canvas.grab().toImage()
        self.click(self.canvas, waiting.center().toPoint())
        self.assertEqual(self.window.selection.exit_id, "east_gate")
        self.assertNotEqual(self.canvas.grab().toImage(), image)
        self.drag(self.canvas, waiting.center().toPoint(), self.at(20, 10))
        self.assertEqual(self.level.exit("east_gate").area, (0, 0, 0, 0))  # it lies nowhere yet

    def test_stretching_by_a_corner(self):
        self.window.selection.select("bell_sands", "east_gate")
        self.drag(self.canvas, self.at(46, 12), self.at(44, 10.5))
        self.assertEqual(self.level.exit("east_gate").area, (44, 10.5, 4, 5.5))

    def test_alt_drags_free_of_the_grid(self):
        before = self.level.spawn("east").x
        self.drag(self.canvas, self.at(43, 15.5), self.at(40.87, 15.5), ALT)
        moved = self.level.spawn("east").x - before
        self.assertGreater(abs(moved * 2 - round(moved * 2)), 0.02)

    def test_escape_gives_a_drag_up(self):
        before = self.window.document.flow
        self.mouse(self.canvas, QEvent.Type.MouseButtonPress, self.at(47, 14))
        self.mouse(self.canvas, QEvent.Type.MouseMove, self.at(40, 14))
        self.canvas.grab()
        self.key(self.canvas, Qt.Key.Key_Escape)
        self.mouse(self.canvas, QEvent.Type.MouseButtonRelease, self.at(40, 14))
        self.assertTrue(self.window.document.flow is before)
        self.assertTrue(self.window.navigation.is_plan_open)

    def test_drawing_exits_spawn_points_deeds_and_solids(self):
        exits, solids = len(self.level.exits), len(self.level.plan.solids)
        self.key(self.canvas, Qt.Key.Key_2)
        self.drag(self.canvas, self.at(30, 12), self.at(32, 16))
        new = self.level.exits[-1]
        self.assertEqual((len(self.level.exits), new.area, new.trigger.kind), (exits + 1, (30, 12, 2, 4), "touch"))
        self.assertEqual(self.window.selection.exit_id, new.id)
        for key, group in ((Qt.Key.Key_3, "spawns"), (Qt.Key.Key_4, "deeds")):
            self.key(self.canvas, key)
            self.click(self.canvas, self.at(12, 16))
            made = getattr(self.level, group)[-1]
            self.assertEqual((made.x, made.y), (12, 16))
        self.key(self.canvas, Qt.Key.Key_5)
        for x in (4, 8):
            self.drag(self.canvas, self.at(x, 6), self.at(x + 2, 8))
        self.assertEqual(self.canvas.tool, "solid")
        self.assertEqual(self.level.plan.solids[solids:], ((4, 6, 2, 2), (8, 6, 2, 2)))

    def test_several_are_chosen_moved_lined_up_and_removed(self):
        self.drag(self.canvas, self.at(19, 8.2), self.at(29, 12.5))
        self.assertEqual(
            set(self.canvas.parts), {Part("spawns", "buoy"), Part("deeds", "ring_buoy"), Part("solids", "1")}
        )
        self.key(self.canvas, Qt.Key.Key_Up)
        self.assertEqual((self.level.spawn("buoy").y, self.level.plan.solids[1][1]), (10.5, 10.5))
        self.key(self.canvas, Qt.Key.Key_Down, SHIFT)
        self.assertEqual(self.level.spawn("buoy").y, 10.625)
        self.click(self.canvas, self.at(37, 15), SHIFT)
        self.assertIn(Part("solids", "2"), self.canvas.parts)
        self.window.requests.plans.align("left")
        self.assertEqual({solid[0] for solid in self.level.plan.solids[1:]}, {20})
        self.canvas.grab()
        self.key(self.canvas, Qt.Key.Key_Delete)
        self.assertEqual((len(self.level.plan.solids), self.level.deeds), (1, ()))

    def test_zooming_and_panning_change_nothing(self):
        before, scale = self.window.document.flow, self.canvas.frame().scale
        self.key(self.window, Qt.Key.Key_Plus, CONTROL)
        self.assertGreater(self.canvas.frame().scale, scale)
        point = self.canvas.frame().plan_point(self.canvas.frame().rect.center())
        self.mouse(self.canvas, QEvent.Type.MouseButtonPress, QPoint(300, 200), Qt.MouseButton.MiddleButton)
        self.mouse(self.canvas, QEvent.Type.MouseMove, QPoint(340, 210), Qt.MouseButton.MiddleButton)
        self.mouse(self.canvas, QEvent.Type.MouseButtonRelease, QPoint(340, 210), Qt.MouseButton.MiddleButton)
        self.assertEqual(self.canvas.frame().plan_point(self.canvas.frame().rect.center()), point)
        self.key(self.window, Qt.Key.Key_0, CONTROL)
        self.assertAlmostEqual(self.canvas.frame().scale, scale)
        self.assertTrue(self.window.document.flow is before)


class ByNumber(PlanCase):
    def field(self, name):
        numbers = self.window.plan.numbers
        return next(f for f in numbers.findChildren(NumberField) if f.accessibleName() == name and f.isVisible())

    def test_numbers_of_an_area(self):
        self.window.selection.select("bell_sands", "east_gate")
        field = self.field("w")
        field.selectAll()
        QTest.keyClicks(field, "3.5")
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.assertEqual(self.level.exit("east_gate").area, (46, 12, 3.5, 4))
        self.key(self.field("x"), Qt.Key.Key_Down)
        self.assertEqual(self.level.exit("east_gate").area[0], 45.5)
        field = self.field("h")
        field.setText("")
        field._finish()
        self.assertEqual(field.text(), "4")

    def test_a_number_still_being_typed_is_kept_when_something_else_is_chosen(self):
        self.window.selection.select("bell_sands", "east_gate")
        field = self.field("w")
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, "3.5")
        self.window.selection.select("bell_sands", "west_gate")
        self.wait_until(lambda: self.level.exit("east_gate").area[2] == 3.5, "keeps it")
        self.assertEqual((self.field("x").text(), self.field("w").text()), ("0", "2"))

    def test_a_plan_is_made_with_its_size_and_ground(self):
        self.window.navigation.open_plan("title")
        self.window.plan._make.click()
        plan = self.window.document.flow.level("title").plan
        self.assertEqual((plan.width, plan.height, plan.solids), (40, 12, ((0, 10, 40, 2),)))
        self.key(self.field("wide"), Qt.Key.Key_Up)
        self.assertEqual(self.window.document.flow.level("title").plan.width, 41)


class Copying(PlanCase):
    def test_things_are_copied_to_another_level_and_window(self):
        self.window.selection.select_parts("bell_sands", [Part("exits", "east_gate"), Part("spawns", "east")])
        self.key(self.window, Qt.Key.Key_C, CONTROL)
        self.assertIn("mossy_bridge_parts", QGuiApplication.clipboard().text())
        self.window.selection.select("gull_stair")
        before = len(self.window.document.flow.level("gull_stair").exits)
        self.key(self.window, Qt.Key.Key_V, CONTROL)
        pasted = self.window.document.flow.level("gull_stair")
        self.assertEqual((len(pasted.exits), pasted.exits[-1].name), (before + 1, "East gate"))
        self.assertEqual({part.group for part in self.window.selection.parts}, {"exits", "spawns"})
        self.key(self.window, Qt.Key.Key_X, CONTROL)
        self.agree()  # for a way goes with it
        self.assertEqual(len(self.window.document.flow.level("gull_stair").exits), before)
        self.person.answers["unsaved"] = "discard"
        self.window.files.new()
        self.window.requests.levels.new("")
        self.key(self.window, Qt.Key.Key_V, CONTROL)
        self.assertEqual(self.window.document.flow.levels[0].exits[0].name, "East gate")
        self.assertEqual(self.window.document.flow.transitions[0].id, "causeway")

    def test_duplicating_a_thing_and_levels_through_the_clipboard(self):
        self.window.selection.select_parts("bell_sands", [Part("spawns", "east")])
        self.key(self.window, Qt.Key.Key_D, CONTROL)
        self.assertEqual(self.level.spawns[-1].x, self.level.spawn("east").x + 0.8)
        self.window.navigation.close_plan()
        self.window.selection.select("stair_well")
        self.key(self.window, Qt.Key.Key_C, CONTROL)
        self.window.selection.select("credits")
        self.key(self.window, Qt.Key.Key_V, CONTROL)
        if self.window.proposal_bar.isVisible():
            self.key(self.window.proposal_bar.yes, Qt.Key.Key_Return)
        self.assertEqual(self.window.document.flow.levels[-1].name, "Stair Well 4b")

    def test_what_is_no_part_of_a_flow_is_told(self):
        QGuiApplication.clipboard().setText("hello")
        self.key(self.window, Qt.Key.Key_V, CONTROL)
        self.assertIn("holds nothing of a flow", self.person.told[-1])
        QGuiApplication.clipboard().setText('{"mossy_bridge_parts": 1, "exits": [{"id": "A"}]}')
        self.key(self.window, Qt.Key.Key_V, CONTROL)
        self.assertIn("exits[0].id", self.person.told[-1])


class Behind(PlanCase):
    def test_a_picture_is_named_relative_to_the_flow_and_painted_dimmed(self):
        self.window.document.save(self.folder / "t.mossy")
        (self.folder / "art").mkdir()
        picture = QImage(96, 40, QImage.Format.Format_RGB32)
        picture.fill(QColor("red"))
        picture.save(str(self.folder / "art" / "sands.png"))
        self.person.answers["picture"] = self.folder / "art" / "sands.png"
        before = self.canvas.grab().toImage().pixelColor(self.at(10, 3))
        self.window.plan._picture.click()
        self.assertEqual(self.level.plan.picture, "art/sands.png")
        self.settled("art/sands.png", "there")
        after = self.canvas.grab().toImage().pixelColor(self.at(10, 3))
        self.assertGreater(after.red() - after.blue(), before.red() - before.blue() + 60)
        self.window.plan._bare.click()
        self.assertEqual(self.level.plan.picture, "")

    def settled(self, name, expected):
        found = []
        self.wait_until(lambda: found.append(PICTURES.standing(self.folder, name)) or found[-1] != "waiting", name)
        self.assertEqual(found[-1], expected, name)

    def choose(self, path):
        self.person.answers["picture"] = path
        self.window.plan._picture.click()
        return self.person.told[-1]

    def test_what_is_no_picture_or_lies_elsewhere_is_told(self):
        home = self.folder / "project"
        home.mkdir()
        self.window.document.save(home / "t.mossy")
        bad = home / "bad.png"
        bad.write_text("no picture")
        self.assertIn("cannot be read as a picture", self.choose(bad))
        os.mkfifo(home / "pipe.png")
        self.assertIn("is no ordinary file", self.choose(home / "pipe.png"))
        (self.folder / "out.png").write_bytes(b"")
        self.assertIn("lies outside the flow's folder", self.choose(self.folder / "out.png"))
        (home / "link.png").symlink_to(self.folder / "out.png")
        self.assertIn("lies outside the flow's folder", self.choose(home / "link.png"))
        for name in ("../out.png", str(self.folder / "out.png"), "link.png", "gone.png", "\ud800.png"):
            self.assertEqual(PICTURES.standing(home, name), "missing", name)

    def test_an_svg_reads_nothing_and_ends(self):
        ten = "<use xlink:href='#g{}'/>" * 10
        uses = "".join(f'<g id="g{n}">{ten.format(*[n - 1] * 10)}</g>' for n in range(1, 16))
        links = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 10 10"'
        secret = self.folder / "secret.png"
        image = QImage(10, 10, QImage.Format.Format_RGB32)
        image.fill(QColor("red"))
        image.save(str(secret))
        box = '<rect width="10" height="10" fill="lime"/>'
        for name, text, expected in (
            ("plain", f"<svg {links}>{box}</svg>", "there"),
            ("reads", f'<svg {links}>{box}<image width="10" height="10" xlink:href="{secret.as_uri()}"/></svg>', "there"),
            ("nested", f'<svg {links}><defs><g id="g0">{box}</g>{uses}</defs><use xlink:href="#g15"/></svg>', "unreadable"),
            ("entity", f'<!DOCTYPE svg [<!ENTITY a SYSTEM "{secret.as_uri()}">]><svg {links}>&a;</svg>', "unreadable"),
        ):  # fmt: skip
            (self.folder / f"{name}.svg").write_text(text)
            self.settled(f"{name}.svg", expected)
            if expected == "there":
                drawn = QImage(10, 10, QImage.Format.Format_RGB32)
                painter = QPainter(drawn)
                PICTURES.of(self.folder, f"{name}.svg").paint(painter, QRectF(0, 0, 10, 10))
                painter.end()
                self.assertEqual(drawn.pixelColor(5, 5).name(), "#00ff00", name)


if __name__ == "__main__":
    unittest.main()
