"""What is in a report: the verdict, every level with its ways in and out as sentences, and all that concerns the whole
flow."""

from collections.abc import Callable, Iterator, Sequence

from msgspec import Struct

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.checks.finding import Finding
from mossy_bridge.checks.reports.tour_report import tour_lines, tour_summary
from mossy_bridge.language.fact_uses import Use, uses_of_facts
from mossy_bridge.language.numbers import counted
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.destination_words import BY_PLAY
from mossy_bridge.model.flow import Destination, Exit, Flow, Level, Promise, Transition
from mossy_bridge.plan.arrivals import Arrival, arrivals
from mossy_bridge.play.fact_lifetimes import becomes
from mossy_bridge.play.pace import pace_of
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.queries.transition_tour import transition_tour, widest_walk
from mossy_bridge.reach.survey.result import Survey

TOUR_LEVELS = 400
"""A flow with more levels gets no tour in its report: nobody would walk it on paper."""
TRIGGERS = {"touch": "walking into it", "press": "pressing a button at it", "choose": "choosing it",
            "auto": "by itself", "timer": "when its time is up", "fail": "failing"}  # fmt: skip
USES: tuple[tuple[Use, str], ...] = (("gained", "gained"), ("spent", "spent"), ("turned", "turned"), ("reset", "reset"),
                                     ("asked", "asked for"))  # fmt: skip


class ReportLevel(Struct, frozen=True):
    """A level: ``level`` as it is with its pattern; the rest in words."""

    level: Level
    title: str
    about: str
    reached: str
    ways_in: tuple[str, ...]
    ways_out: tuple[str, ...]
    deeds: tuple[str, ...]
    findings: tuple[Finding, ...]


class ReportFact(Struct, frozen=True):
    """A fact: what becomes of it, and for each use the levels."""

    name: str
    about: str
    uses: tuple[tuple[str, str], ...]


class ReportTransition(Struct, frozen=True):
    """A transition, and how often exits use it."""

    transition: Transition
    name: str
    used: int


class ReportBoard(Struct, frozen=True):
    """A board with its tiles in words."""

    title: str
    tiles: tuple[str, ...]


class ReportWalk(Struct, frozen=True):
    """How long a walk takes: minutes, levels, and the share of the time in transitions."""

    name: str
    minutes: float
    levels: int
    share_between: float


class ReportStep(Struct, frozen=True):
    """A step of the tour, to tick off where something is tried for the first time."""

    walk: int
    step: int
    do: str
    place: str
    facts: str
    first: bool


class Report(Struct, frozen=True):
    """All of it."""

    title: str
    verdict: str
    mark: str
    flow: Flow
    levels: tuple[ReportLevel, ...]
    facts: tuple[ReportFact, ...]
    boards: tuple[ReportBoard, ...]
    transitions: tuple[ReportTransition, ...]
    walks: tuple[ReportWalk, ...]
    promises: tuple[tuple[str, str], ...]
    findings: tuple[Finding, ...]
    tour: tuple[ReportStep, ...]
    tour_summary: str
    changes: tuple[str, ...] = ()
    since: str = ""
    """What the changes are since; "" if that was not asked."""


def report_of(
    found: Appraisal, changes: Sequence[str] = (), since: str = "", cancelled: Callable[[], bool] = lambda: False
) -> Report:
    """The report of an appraised flow."""
    survey, flow = found.survey, found.survey.flow
    steps, summary = _tour(survey, cancelled)
    return Report(
        flow.title or "A flow", found.judgement.sentence, found.judgement.mark, flow, tuple(_levels(found)),
        tuple(_facts(flow)), tuple(_boards(flow)), tuple(_transitions(flow)), tuple(_walks(survey)),
        tuple(_promises(survey)), tuple(found.open_findings()), steps, summary, tuple(changes), since,
    )  # fmt: skip


# -- levels --------------------------------------------------------------------------------------------


def _levels(found: Appraisal) -> Iterator[ReportLevel]:
    flow, wording = found.survey.flow, Wording(found.survey.flow)
    ways: dict[str, list[str]] = {level.id: [] for level in flow.levels}
    for arrival in arrivals(flow):
        if arrival.how != "unused":
            ways[arrival.level].append(_way_in(flow, arrival))
    about: dict[str, list[Finding]] = {}
    for finding in found.open_findings():
        for name in dict.fromkeys(place.partition(".")[0] for place in finding.at):
            about.setdefault(name, []).append(finding)
    regions = {region.id: region.name or region.id for region in flow.regions}
    for level in flow.levels:
        yield ReportLevel(
            level, level_title(level), _about(level, regions, wording), _reached(found.survey, level),
            tuple(ways[level.id]), tuple(_way_out(flow, wording, exit_) for exit_ in level.exits),
            tuple(_deeds(level, wording)), tuple(about.get(level.id, ())),
        )  # fmt: skip


def level_title(level: Level) -> str:
    """Code and name."""
    return f"{level.code} {level.title}".strip() if level.code != level.title else level.title


def _about(level: Level, regions: dict[str, str], wording: Wording) -> str:
    parts = [{"play": "level", "screen": "screen", "board": "board"}[level.kind]]
    parts += [f"in {regions[level.region]}"] if level.region in regions else []
    parts += [level.status] if level.status != "draft" else []
    parts += ["does not ship"] if not level.ships else []
    parts += [f"opens when {wording.condition(level.opens)}"] if level.opens != "always" else []
    parts += [f"about {level.minutes:g} minutes"] if level.minutes else []
    parts += [f"difficulty {level.difficulty}"] if level.difficulty else []
    parts += [f"on arrival: {', '.join(map(wording.effect, level.on_arrival))}"] if level.on_arrival else []
    parts += [f"file {level.file}"] if level.file else []
    return ", ".join(parts)


def _reached(survey: Survey, level: Level) -> str:
    verdict, crossings = survey.levels.get(level.id), survey.crossings.get(level.id)
    if verdict is None or verdict.answer == "no":
        return "never reached"
    if verdict.answer == "unknown":
        return "not known whether it is reached"
    return "reached" if crossings is None else f"reached after {counted(crossings, 'crossing')}"


def _way_in(flow: Flow, arrival: Arrival) -> str:
    source, level = flow.level(arrival.source), flow.level(arrival.level)
    spawn = level.spawn(arrival.spawn) if level and arrival.spawn else None
    lands = f", at {spawn.name or spawn.id}" if spawn else ""
    if arrival.how == "start" or source is None:
        return f"the start of the game{lands}"
    exit_ = source.exit(arrival.thing)
    by = "a tile" if arrival.how == "tile" or exit_ is None else exit_.name or exit_.id
    return f"from {level_title(source)} by {by}{lands}"


def _way_out(flow: Flow, wording: Wording, exit_: Exit) -> str:
    parts = [f"{exit_.name or exit_.id}: {TRIGGERS[exit_.trigger.kind]}"]
    parts += [f"when {wording.condition(exit_.trigger.when)}"] if exit_.trigger.when != "always" else []
    parts += [f"provided {wording.condition(exit_.opens)}"] if exit_.opens != "always" else []
    parts += [", ".join(map(wording.effect, exit_.effects))] if exit_.effects else []
    parts += ["completes the level"] if exit_.completes else []
    parts += ["begins a new run"] if exit_.fresh else []
    transition = flow.transition(exit_.transition) if exit_.transition else None
    parts += [f"{transition.name or transition.id}, {transition.seconds:g} s"] if transition else []
    return f"{'; '.join(parts)} → {_destination(flow, exit_.to)}"


def _destination(flow: Flow, to: Destination | None) -> str:
    if to is None:
        return "nowhere yet"
    told = BY_PLAY.get(to.kind, "")
    if to.kind == "end":
        told = f"the ending {next((one.name for one in flow.endings if one.id == to.ending), '') or to.ending}"
    elif to.kind == "level":
        level = flow.level(to.level)
        spawn = level.spawn(to.spawn) if level and to.spawn else None
        told = (level_title(level) if level else to.level) + (f", {spawn.name or spawn.id}" if spawn else "")
    return f"{told}, else {_destination(flow, to.otherwise)}" if to.otherwise else told


def _deeds(level: Level, wording: Wording) -> Iterator[str]:
    for deed in level.deeds:
        parts = [f"{deed.name or deed.id}: {', '.join(map(wording.effect, deed.effects)) or 'nothing changes'}"]
        parts += [f"when {wording.condition(deed.when)}"] if deed.when != "always" else []
        parts += [f"once a {deed.repeats}"] if deed.repeats != "always" else ["any number of times"]
        parts += ["a checkpoint"] if deed.checkpoint else []
        yield "; ".join(parts)


# -- the whole flow ------------------------------------------------------------------------------------


def _facts(flow: Flow) -> Iterator[ReportFact]:
    titles = {level.id: level_title(level) for level in flow.levels}
    found: dict[tuple[str, Use], dict[str, None]] = {}
    for use in uses_of_facts(flow):
        found.setdefault((use.fact, use.use), {})[titles.get(use.level, "a promise")] = None
    for fact in flow.facts:
        uses = tuple((word, ", ".join(found[fact.id, use])) for use, word in USES if (fact.id, use) in found)
        yield ReportFact(fact.name or fact.id, f"{fact.kind}, {', '.join(becomes(flow, fact))}", uses)


def _boards(flow: Flow) -> Iterator[ReportBoard]:
    for board in flow.levels:
        if board.kind == "board":
            levels = [flow.level(tile.level) for tile in board.tiles]
            yield ReportBoard(level_title(board), tuple(level_title(one) if one else "to no level" for one in levels))


def _transitions(flow: Flow) -> Iterator[ReportTransition]:
    used = [exit_.transition for level in flow.levels for exit_ in level.exits]
    for one in flow.transitions:
        yield ReportTransition(one, one.name or one.id, used.count(one.id))


def _walks(survey: Survey) -> Iterator[ReportWalk]:
    rules = Rules(survey.flow, resuming=True, before=survey.rules)
    routes = []
    for ending in survey.flow.endings:
        verdict = survey.endings.get(ending.id)
        if verdict and verdict.answer == "yes":
            routes.append((f"shortest to {ending.name or ending.id}", verdict.route))
    everything = widest_walk(survey)
    for name, route in [*routes, *([("fullest", everything)] if everything else [])]:
        pace = pace_of(rules, route)
        yield ReportWalk(name, pace.minutes, len({stay.level for stay in pace.stays}), pace.share_between)


def _promises(survey: Survey) -> Iterator[tuple[str, str]]:
    wording = Wording(survey.flow)
    for promise in survey.flow.promises:
        verdict = survey.promises.get(promise.id)
        kept = {"yes": "kept", "no": "broken"}.get(verdict.holds if verdict else "", "not known")
        yield promise.name or _promise_words(survey.flow, wording, promise), kept


def _promise_words(flow: Flow, wording: Wording, promise: Promise) -> str:
    level = flow.level(promise.level) if promise.level else None
    goal = level_title(level) if level else promise.ending or "nowhere"
    when = f" with “{wording.condition(promise.when)}”" if promise.when != "always" else ""
    crossings = f" in at most {promise.crossings} crossings" if promise.kind == "within" else ""
    verb = {"can": "can reach", "within": "can reach", "never": "never reaches", "always_can": "can always reach"}
    return f"the player {verb[promise.kind]} {goal}{when}{crossings}"


def _tour(survey: Survey, cancelled: Callable[[], bool]) -> tuple[tuple[ReportStep, ...], str]:
    if len(survey.flow.levels) > TOUR_LEVELS:
        return (), ""
    tour = transition_tour(survey, cancelled)
    lines = tour_lines(survey.rules, tour)
    steps = tuple(ReportStep(one.walk, one.step, one.do, one.place, one.facts, one.first) for one in lines)
    return steps, tour_summary(tour)
