"""Where bridges run on the map: between the cards, apart from one another, and clear of what is written."""

import unittest
from itertools import combinations, islice, pairwise
from pathlib import Path
from random import Random

from hypothesis import given
from hypothesis import strategies as st

import mossy_bridge
from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.desk.map.courses import RIM, Connection, End, Footprint
from mossy_bridge.desk.map.label_places import Labelled, label_places
from mossy_bridge.desk.map.lanes import APART, Long, Run, crossings_of, in_order, lanes, rim_heights, spread
from mossy_bridge.desk.map.polyline import rounded
from mossy_bridge.desk.map.routing import Routing
from mossy_bridge.desk.map.scene import MapScene
from mossy_bridge.exchange.reading import read_flow
from mossy_bridge.model.patterns import resolved
from tests.support.map_figures import (
    MADE_UP,
    crossings_of_bridges,
    labels_over_something,
    made_up_flow,
    over_foreign_cards,
    under_labels,
)
from tests.support.qt import make_application

DEMOS = Path(mossy_bridge.__file__).parent / "demo"


class MapFigures(unittest.TestCase):
    """On both demos and on made-up flows of 20 to 60 levels."""

    def setUp(self):
        make_application()

    def scenes(self):
        flows = [read_flow(DEMOS / f"{name}.mossy") for name in ("tidewick", "tidewick_unfinished")]
        for flow in [*flows, *(made_up_flow(*one) for one in MADE_UP)]:
            scene = MapScene()
            scene.show(resolved(flow), appraise(flow, budget=default_budget(flow)))
            yield scene

    def test_bridges_and_words_keep_clear(self):
        locks = words = 0
        for scene in self.scenes():
            self.assertEqual(over_foreign_cards(scene), [])
            self.assertEqual(labels_over_something(scene), [])
            self.assertEqual(under_labels(scene), [])
            locks += sum(bool(bridge.lock) and not bridge.quiet for bridge in scene.bridges.values())
            words += sum(bridge.route.label is not None for bridge in scene.bridges.values())
        self.assertGreater(words, locks / 3)  # else they would keep clear by not being there

    def test_in_the_finished_demo_no_bridge_crosses_another(self):
        self.assertEqual(crossings_of_bridges(next(self.scenes())), 0)


class Spreading(unittest.TestCase):
    @given(st.lists(st.floats(-50, 150), max_size=12).map(sorted))
    def test_in_order_apart_and_within(self, wanted):
        found = spread(wanted, 0, 100, 8)
        apart = min(8, 100 / max(1, len(wanted) - 1))
        self.assertEqual(len(found), len(wanted))
        self.assertTrue(all(-1e-6 <= place <= 100 + 1e-6 for place in found))
        self.assertTrue(all(other - one >= apart - 1e-6 for one, other in pairwise(found)))

    def test_what_is_apart_already_stays(self):
        self.assertEqual(spread([10, 30, 60], 0, 100, 8), [10, 30, 60])

    def test_what_is_too_near_moves_as_little_as_it_can(self):
        self.assertEqual(spread([50, 50], 0, 100, 8), [46, 54])
        self.assertEqual(spread([0, 0], 0, 100, 8), [0, 8])


class Gutters(unittest.TestCase):
    def test_two_that_go_down_need_not_cross(self):
        """The upper one turns further to the right."""
        upper, lower = Run(10, False, 60, True), Run(40, False, 90, True)
        self.assertEqual(in_order([upper, lower]), [1, 0])
        self.assertEqual((crossings_of(lower, upper), crossings_of(upper, lower)), (0, 2))

    def test_lanes_lie_within_and_those_that_overlap_apart(self):
        pick = Random(5)
        for _ in range(200):
            runs = [
                Run(pick.randrange(200), pick.random() < 0.3, pick.randrange(200), pick.random() < 0.7)
                for _ in range(pick.randrange(1, 7))
            ]
            found = lanes(runs, 0, 60)
            self.assertTrue(all(0 <= x <= 60 for x in found))
            for (one, x), (other, y) in combinations(zip(runs, found, strict=True), 2):
                overlap = one.low < other.high and other.low < one.high
                if overlap and not (one.is_straight or other.is_straight):
                    self.assertGreaterEqual(abs(x - y), min(APART, 60 / len(runs)) - 1e-6)

    def test_the_order_is_never_worse_than_the_one_it_begins_with(self):
        pick = Random(6)
        for _ in range(100):
            runs = [Run(pick.randrange(99), False, pick.randrange(99), True) for _ in range(6)]
            order = in_order(runs)
            cost = sum(crossings_of(runs[a], runs[b]) for a, b in combinations(order, 2))
            for at in range(5):
                other = [*order[:at], order[at + 1], order[at], *order[at + 2 :]]
                self.assertLessEqual(cost, sum(crossings_of(runs[a], runs[b]) for a, b in combinations(other, 2)))

    def test_along_the_rim_the_shorter_lies_inside(self):
        self.assertEqual(rim_heights([Long(0, 3), Long(1, 2), Long(3, 3)], [5, 20, 5, 5]),
                         [20 + 2 * APART, 20 + APART, 5 + APART])  # fmt: skip


class Words(unittest.TestCase):
    GAPS = ((True, 100, 130, ()), (False, 100, 130, ()))

    def test_they_stand_in_the_gap_beside_the_lock(self):
        run = Run(60, False, 180, True)
        [place] = label_places([Labelled(30, run, 50)], [(30, run)], (0, 60), self.GAPS)
        left, top, right, bottom = place.box
        self.assertTrue(right < 30 or left > 30)
        self.assertTrue(top >= 100 and bottom <= 130)
        self.assertEqual(place.lock[0], 30)

    def test_one_place_is_given_once(self):
        runs = [Run(60, False, 180, True)] * 3
        wanted = [Labelled(30, run, 80) for run in runs]
        boxes = [place.box for place in label_places(wanted, [(30, runs[0])], (0, 60), self.GAPS)]
        self.assertEqual(sum(box is not None for box in boxes), 2)
        self.assertNotEqual(boxes[0], boxes[1])

    def test_a_line_across_the_gap_leaves_no_room(self):
        run = Run(60, False, 180, True)
        gaps = [(is_left, low, high, (115.0,)) for is_left, low, high, _ in self.GAPS]
        [place] = label_places([Labelled(30, run, 50)], [(30, run)], (0, 60), gaps)
        self.assertIsNone(place.box)
        self.assertEqual(place.lock, (30, 120))


def grid(across, down):
    """Columns of cards of 100 by 60, 160 apart, with a gap of 40 between them."""
    return [
        {f"{x}{y}": Footprint(x * 160.0, 50.0 + y * 100, x * 160 + 100.0, 110.0 + y * 100) for y in range(down)}
        for x in range(across)
    ]


def way(one, other, columns):
    ends = []
    for name in (one, other):
        box = next(column[name] for column in columns if name in column)
        ends.append(End(name, (box.left + box.right) / 2, box.bottom - 20))
    return Connection(*ends)


class Routes(unittest.TestCase):
    def test_straight_across_to_the_next_column(self):
        columns, routing = grid(2, 1), Routing()
        routing.place(columns)
        routing.put("a", way("00", "10", columns))
        self.assertEqual(routing.settle(), {"a"})
        self.assertEqual(routing.route("a").points, ((50, 90), (100, 90), (160, 90), (210, 90)))

    def test_over_a_column_between_through_a_gap(self):
        columns, routing = grid(3, 2), Routing()
        routing.place(columns)
        routing.put("a", way("00", "20", columns))
        routing.settle()
        heights = [y for (x, y), (u, _) in pairwise(routing.route("a").points) if x < 210 < u]
        self.assertEqual(len(heights), 1)
        self.assertTrue(110 < heights[0] < 150 or heights[0] < 50)

    def test_a_long_way_runs_below_all(self):
        columns, routing = grid(RIM + 2, 1), Routing()
        first, last = "00", f"{RIM + 1}0"
        routing.place(columns)
        routing.put("a", Connection(End(first, 50, 90), End(last, (RIM + 1) * 160 + 50, 90)))
        routing.settle()
        points = routing.route("a").points
        [(_, low), (_, other)] = max(pairwise(points), key=lambda pair: pair[1][0] - pair[0][0])
        self.assertEqual(low, other)
        self.assertGreater(low, 110)

    def test_whatever_is_put_in_and_taken_out_it_is_as_if_begun_afresh(self):
        for seed in range(30):
            pick = Random(seed)
            columns, routing, ways = grid(4, 3), Routing(), {}
            routing.place(columns)
            for _ in range(25):
                name = pick.randrange(9)
                if name in ways and pick.random() < 0.4:
                    del ways[name]
                    routing.drop(name)
                elif pick.random() < 0.1:
                    columns = [dict(column) for column in columns]
                    moved = columns[pick.randrange(4)]
                    card = pick.choice(sorted(moved))
                    box = moved.pop(card)
                    box = box._replace(top=box.top + 5, bottom=box.bottom + 5)
                    other = columns[pick.randrange(4)] if moved else moved
                    sides = next(iter((other or moved).values()), box)
                    other[card] = box._replace(left=sides.left, right=sides.right)
                    routing.place(columns)
                else:
                    ways[name] = way(*pick.sample([card for column in columns for card in column], 2), columns)
                    routing.put(name, ways[name])
                if pick.random() < 0.5:
                    routing.settle()
                elif pick.random() < 0.5:  # somebody goes on before all of it is settled
                    for _ in islice(routing.settling(), pick.randrange(12)):
                        pass
            routing.settle()
            anew = Routing()
            anew.place(columns)
            for name, one in ways.items():
                anew.put(name, one)
            anew.settle()
            self.assertEqual({n: routing.route(n) for n in ways}, {n: anew.route(n) for n in ways}, seed)


class Lines(unittest.TestCase):
    def test_corners_are_rounded_and_the_ends_are_where_they_were(self):
        line = rounded(((0, 0), (20, 0), (50, 0), (50, 80), (90, 80)), True, False)
        self.assertEqual((line.at(0)[:2], line.at(1)[:2]), ((0, 0), (90, 80)))
        self.assertNotIn((50, 0), line.points)
        self.assertLess(line.length(), 170)
        self.assertGreater(line.length(), 150)
        x, y, across, along = line.at(0.5)
        self.assertEqual((x, round(across, 6), round(along, 6)), (50, 0, 1))
        self.assertTrue(0 < y < 80)


if __name__ == "__main__":
    unittest.main()
