"""The map's scene: what an edit leaves alone is kept, and the result is that of making everything anew."""

import time
import unittest
from itertools import islice
from pathlib import Path
from random import Random

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QPainter, QPixmap

import mossy_bridge
from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.desk.map.scene import CELL, FEW, Index, MapScene
from mossy_bridge.desk.map.tiles import SIDE, Tiles
from mossy_bridge.exchange.reading import read_flow
from mossy_bridge.exchange.rereading import reread
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import order as ordering
from mossy_bridge.model.edits.patterns import base_on, make_pattern
from mossy_bridge.model.flow import Destination
from mossy_bridge.model.patterns import resolved
from tests.support.build import flow, play_level, way
from tests.support.qt import make_application

DEMO = Path(mossy_bridge.__file__).parent / "demo" / "tidewick_unfinished.mossy"


def told(scene):
    """Everything a scene shows, so that two can be compared."""
    cards = {name: (card.placed, card.mark, card.reason, card.tint) for name, card in scene.cards.items()}
    bridges = {
        name: (bridge.crossing, bridge.lock, bridge.works, bridge.route) for name, bridge in scene.bridges.items()
    }
    return cards, bridges


def random_edit(flow, pick):
    """One of the edits a designer makes on the map and the bench."""
    levels = [level.id for level in flow.levels]
    level = flow.level(pick.choice(levels))
    kind = pick.randrange(9)
    if kind == 0 and level.exits:
        return edits.connect(flow, level.id, pick.choice(level.exits).id, pick.choice(levels))
    if kind == 1 and level.exits:
        to = pick.choice([None, Destination(kind="next"), Destination(kind="end", ending="lamp_lit")])
        return edits.set_exit(flow, level.id, pick.choice(level.exits).id, to=to)
    if kind == 2:
        return edits.set_level(flow, level.id, name=f"Renamed {pick.randrange(99)}")
    if kind == 3:
        return edits.add_level(flow, "Another", level.id)[0]
    if kind == 4 and len(levels) > 3:
        return edits.remove_levels(flow, [level.id])
    if kind == 5:
        return ordering.move_levels(flow, [level.id], pick.choice(levels))
    if kind == 6:
        return edits.place_card(flow, level.id, pick.randrange(40), pick.randrange(600))
    if kind == 7 and level.exits:
        return edits.set_exit(flow, level.id, pick.choice(level.exits).id, opens=pick.choice(["has rope", "always"]))
    return edits.add_exit(flow, level.id, "New way", Destination(level=pick.choice(levels)))[0]


class Scenes(unittest.TestCase):
    def setUp(self):
        self.app = make_application()
        self.flow = read_flow(DEMO)
        self.result = appraise(self.flow, budget=default_budget(self.flow))

    def test_after_any_edits_it_is_as_if_made_anew(self):
        for seed in range(12):
            pick = Random(seed)
            scene, flow = MapScene(), self.flow
            scene.show(resolved(flow), self.result)
            for _ in range(12):
                flow = random_edit(flow, pick)
                scene.show(resolved(flow), self.result)
                anew = MapScene()
                anew.show(resolved(flow), self.result)
                self.assertEqual(told(scene), told(anew), seed)
                everywhere = QRectF(-1e4, -1e4, 2e4, 2e4)
                self.assertEqual(*({id_of(x) for part in s.within(everywhere) for x in part} for s in (scene, anew)))

    def test_another_flow_before_the_last_is_shown_whole(self):
        """Whatever part of one flow is shown when the next comes, the next is shown as if made anew."""
        later = edits.remove_levels(edits.set_level(self.flow, "gull_stair", name="Gull Steps"), ["bell_sands"])
        for part in (0, 1, 7, 30, 60):
            scene = MapScene()
            for _ in zip(range(part), scene.showing(self.flow, self.result)):  # noqa: B905 - a part of it
                pass
            scene.show(later, self.result)
            anew = MapScene()
            anew.show(later, self.result)
            self.assertEqual(told(scene), told(anew), part)

    def test_where_many_cards_and_bridges_were_is_told_however_often_it_is_begun(self):
        """Whatever part of another flow is shown when it is begun again, all that has gone is told of."""
        levels = [play_level(f"l{at}", way("on", f"l{at + 1}" if at < 2 * FEW else "won")) for at in range(2 * FEW + 1)]
        many = flow(*levels)
        for part in (0, 2, 30, FEW, 2 * FEW):
            scene, dirty = MapScene(), []
            scene.show(many, appraise(many, budget=default_budget(many)))
            gone = [thing.bounds for thing in (*scene.cards.values(), *scene.bridges.values())]
            self.assertGreater(len(gone), 3 * FEW)
            for some in islice(scene.showing(self.flow, self.result), part):
                dirty += some
                list(scene.faraway(QRectF(-1e4, -1e4, 2e4, 2e4)))  # as it is painted meanwhile
            dirty += scene.show(self.flow, self.result)
            anew = MapScene()
            anew.show(self.flow, self.result)
            self.assertEqual(told(scene), told(anew), part)
            self.assertTrue(all(any(rect.contains(one) for rect in dirty) for one in gone), part)
            seen = [sum(len(points) for group in s.faraway(QRectF(-1e4, -1e4, 2e4, 2e4)) for points in group.points.values())
                    for s in (scene, anew)]  # fmt: skip
            self.assertEqual(seen[0], seen[1], part)

    def test_an_edit_of_one_level_touches_little(self):
        scene = MapScene()
        scene.show(self.flow, self.result)
        kept = dict(scene.cards), dict(scene.bridges)
        dirty = scene.show(edits.set_level(self.flow, "bell_sands", name="Gull Sands"), self.result)
        changed = [name for name, card in scene.cards.items() if card is not kept[0][name]]
        self.assertEqual(changed, ["bell_sands"])
        others = [name for name, b in scene.bridges.items() if b is not kept[1][name] and "bell_sands" not in name]
        self.assertEqual(others, [])
        self.assertLess(max(rect.width() for rect in dirty), 2000)
        self.assertEqual(scene.show(scene.flow, self.result), [])

    def test_a_changed_pattern_changes_its_levels_alone(self):
        scene = MapScene()
        flow, pattern = make_pattern(self.flow, "gull_stair", "Marsh")
        flow = base_on(flow, ["pan_row"], pattern)
        scene.show(resolved(flow), self.result)
        before = dict(scene.cards)
        flow = reread(edits.set_level(flow, f"pattern:{pattern}", opens="has rope"), flow)
        scene.show(resolved(flow), self.result)
        self.assertEqual({n for n in before if scene.cards[n] is not before[n]}, {"gull_stair", "pan_row"})

    def test_what_is_under_a_point(self):
        scene = MapScene()
        scene.show(self.flow, self.result)
        card = scene.cards["salt_gate"]
        self.assertIs(scene.card_at(card.placed.rect.center()), card)
        self.assertIsNone(scene.card_at(QPointF(-5000, -5000)))
        bridge = next(b for b in scene.bridges.values() if b.crossing.kind == "fixed")
        self.assertIsNotNone(scene.bridge_at(bridge.middle(), 6, lambda _: True))
        self.assertIsNone(scene.bridge_at(bridge.middle(), 6, lambda _: False))
        points = [p for group in scene.faraway(scene.bounds()) for ps in group.points.values() for p in ps]
        self.assertEqual(len(points), len(scene.cards))


def id_of(thing):
    return thing.level_id if hasattr(thing, "level_id") else thing.crossing


class Indexes(unittest.TestCase):
    def test_things_are_near_where_they_were_put_last(self):
        index = Index()
        index.put("a", QRectF(10, 10, 2 * CELL, 20))
        index.put("b", QRectF(5 * CELL + 1, 1, 5, 5))
        self.assertEqual(set(index.near(QRectF(2 * CELL, 0, 9, 9))), {"a"})
        index.put("a", QRectF(-3 * CELL, 0, 5, 5))
        self.assertEqual(set(index.near(QRectF(0, 0, 9, 9))), set())
        self.assertEqual(set(index.near(QRectF(-4 * CELL, -9, 10 * CELL, 90))), {"a", "b"})
        index.lift("a")
        self.assertEqual(set(index.near(QRectF(-4 * CELL, -9, 10 * CELL, 90))), {"b"})


class Pieces(unittest.TestCase):
    def setUp(self):
        self.app = make_application()
        self.painted = []
        self.tiles = Tiles()
        self.picture = QPixmap(2 * SIDE, SIDE)

    def frame(self, area, scale=1.0):
        painter = QPainter(self.picture)
        whole = self.tiles.paint(painter, area, scale, 1.0, QColor("white"), self.strokes)
        painter.end()
        return whole

    def strokes(self, rect):
        def paint(painter):
            self.painted.append(rect)
            painter.fillRect(rect, QColor("red") if rect.left() >= 0 else QColor("blue"))

        return [paint]

    def test_pieces_are_painted_once_and_moved(self):
        area = QRectF(0, 0, 2 * SIDE, SIDE)
        while not self.frame(area):
            pass
        count = len(self.painted)
        self.assertGreaterEqual(count, 2)
        self.assertTrue(self.frame(area))
        self.assertEqual(len(self.painted), count)
        while not self.frame(area.translated(-SIDE, 0)):
            pass
        self.assertLess(len(self.painted), 2 * count + 2)
        colours = [self.picture.toImage().pixelColor(x, SIDE // 2).name() for x in (5, SIDE + 5)]
        self.assertEqual(colours, ["#0000ff", "#ff0000"])

    def test_only_what_changed_is_painted_again(self):
        area = QRectF(0, 0, 2 * SIDE - 1, SIDE - 1)
        while not self.frame(area):
            pass
        self.painted.clear()
        self.tiles.forget([QRectF(SIDE + 10, 10, 5, 5)])
        while not self.frame(area):
            pass
        self.assertEqual([rect.left() for rect in self.painted], [SIDE])
        self.painted.clear()
        self.tiles.forget()
        while not self.frame(area):
            pass
        self.assertEqual(len(self.painted), 2)

    def test_another_zoom_shows_the_picture_before_until_it_is_painted(self):
        area = QRectF(0, 0, 2 * SIDE, SIDE)
        green = QPixmap(2 * SIDE, SIDE)
        green.fill(QColor("lime"))
        self.tiles.stand_in(green, area)

        def slow(rect):
            yield lambda _: time.sleep(0.01)
            yield from self.strokes(rect)

        painter = QPainter(self.picture)
        whole = self.tiles.paint(painter, area, 0.999, 1.0, QColor("white"), slow)
        painter.end()
        self.assertFalse(whole)
        self.assertEqual(self.picture.toImage().pixelColor(2 * SIDE - 5, SIDE // 2).name(), "#00ff00")

    def slowly(self, rect):
        """Ten strokes over one another, each longer than what a frame may take."""
        for shade in range(10):
            yield lambda _: time.sleep(0.007)
            yield lambda painter, shade=shade: painter.fillRect(rect, QColor(shade, 0, 0))
        self.painted.append(rect)

    def frames(self, area, strokes, most=100):
        """Paints frame by frame until all is there; how many that took, or one more than were allowed."""
        for number in range(most):
            painter = QPainter(self.picture)
            whole = self.tiles.paint(painter, area, 1.0, 1.0, QColor("white"), strokes)
            painter.end()
            if whole:
                return number + 1
        return most + 1

    def test_what_takes_long_is_painted_over_several_frames_and_shown_when_it_is_finished(self):
        area = QRectF(0, 0, SIDE - 1, SIDE - 1)
        self.picture.fill(QColor("lime"))
        self.assertGreater(self.frames(area, self.slowly, most=9), 9)
        self.assertEqual(self.picture.toImage().pixelColor(9, 9).name(), "#00ff00")
        self.assertLess(self.frames(area, self.slowly), 13)
        self.assertEqual(self.painted, [QRectF(0, 0, SIDE, SIDE)])
        self.assertEqual(self.picture.toImage().pixelColor(9, 9).name(), "#090000")

    def test_a_piece_half_painted_is_begun_again_once_it_has_changed(self):
        area = QRectF(0, 0, SIDE - 1, SIDE - 1)
        for forgotten in (None, [QRectF(5, 5, 5, 5)]):
            self.painted.clear()
            self.frames(area, self.slowly, most=4)
            self.tiles.forget(forgotten)
            while not self.frame(area):
                pass
            self.assertEqual(self.picture.toImage().pixelColor(9, 9).name(), "#ff0000")
            self.assertEqual(self.painted, [QRectF(0, 0, SIDE, SIDE)])
            self.tiles.forget()


if __name__ == "__main__":
    unittest.main()
