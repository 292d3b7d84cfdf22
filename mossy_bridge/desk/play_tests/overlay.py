"""Lays play-tests over the map, the strip and the plans."""

from collections import defaultdict
from collections.abc import Sequence

from mossy_bridge.desk.map.traffic import PlayerOnMap, Traffic, Weight
from mossy_bridge.desk.map.view import MapView
from mossy_bridge.desk.plan.canvas import PlanCanvas
from mossy_bridge.desk.plan.heat import NOWHERE, Heat, PlayerOnPlan
from mossy_bridge.desk.play_tests.play_tests import PlayTests, Shown
from mossy_bridge.desk.play_tests.wording import minutes_text
from mossy_bridge.desk.strip.strip import Strip
from mossy_bridge.play_logs.live import Player
from mossy_bridge.play_logs.statistics import Statistics


class Overlay:
    """Keeps them laid over. ``refresh_plans`` is to be called whenever a plan shows another level."""

    def __init__(self, play_tests: PlayTests, map_view: MapView, strip: Strip, plans: Sequence[PlanCanvas]):
        self._tests, self._map, self._strip = play_tests, map_view, strip
        self.plans = tuple(plans)
        for signal in (play_tests.changed, play_tests.overlaid):
            signal.connect(self._on_changed)
        play_tests.lived.connect(self._on_lived)

    def _on_changed(self) -> None:
        tests = self._tests
        self._map.traffic.show_traffic(traffic_of(tests.statistics, tests.shown))
        self.refresh_plans()

    def _on_lived(self) -> None:
        players = self._tests.live.players if self._tests.listener.busy else ()
        self._map.traffic.show_players(tuple(map(_on_map, players)))
        here: dict[str, list[str]] = defaultdict(list)
        for player in players:
            here[player.level].append(player.name)
        self._strip.show_players(dict(here))
        self.refresh_plans()

    def refresh_plans(self) -> None:
        """Lays over each plan what was shown of its level."""
        tests = self._tests
        players = tests.live.players if tests.listener.busy else ()
        seen, failed = (tests.statistics.positions, tests.statistics.failed_at) if tests.shown else ({}, {})
        for plan in self.plans:
            here = tuple(
                PlayerOnPlan(one.name, one.at, one.answer == "no")
                for one in players
                if one.level == plan.key and one.at
            )
            plan.heat.show(Heat(seen.get(plan.key, NOWHERE), failed.get(plan.key, NOWHERE), here))


def traffic_of(statistics: Statistics, shown: Shown) -> Traffic | None:
    """How wide bridges are and how heavy cards; None where nothing is to be shown."""
    if not shown or not statistics.arrivals:
        return None
    flow = statistics.flow
    if shown == "failures":
        most = max(statistics.failures.values(), default=0) or 1
        weights = {
            level.id: Weight(count / most, f"failed {count:,}×" if count else "never failed")
            for level in flow.levels if level.kind == "play"
            for count in (statistics.failures[level.id],)
        }  # fmt: skip
        return Traffic(statistics.ways, _or_nobody(statistics, weights), "broken")
    played = [level.id for level in flow.levels if level.kind == "play"]
    medians = {level: statistics.spreads[level]["median"] if level in statistics.spreads else 0.0 for level in played}
    longest = max(medians.values(), default=0.0) or 1.0
    times = {level: Weight(median / longest, minutes_text(median)) for level, median in medians.items()}
    return Traffic(statistics.ways, _or_nobody(statistics, times), "route")


def _or_nobody(statistics: Statistics, weights: dict[str, Weight]) -> dict[str, Weight]:
    """The same, but for levels where nobody was."""
    return {level: weight if statistics.arrivals[level] else Weight(0.0, "nobody") for level, weight in weights.items()}


def _on_map(player: Player) -> PlayerOnMap:
    return PlayerOnMap(player.name, player.level, player.spawn, player.at, player.answer == "no")
