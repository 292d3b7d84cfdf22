"""What can be answered where the states looked at have left something open: by proofs and by probes."""

from functools import partial

from mossy_bridge.reach.concluding import conclude, into_stuck
from mossy_bridge.reach.frontier import swept
from mossy_bridge.reach.joining import Joined
from mossy_bridge.reach.machine import Stopper
from mossy_bridge.reach.probing import Probe, probes
from mossy_bridge.reach.proofs import Proofs, Trap
from mossy_bridge.reach.proven_promises import proven
from mossy_bridge.reach.regardless import Regardless
from mossy_bridge.reach.routes import Route, SomeRoute, is_shortest
from mossy_bridge.reach.verdicts import KINDS, Survey, Verdict


def prove(survey: Survey, proofs: Proofs) -> None:
    """Answers by proofs what the survey has left unknown."""
    survey.proofs = proofs
    survey.look_at(survey.graph)
    _come_to(survey, proofs)
    if survey.stuck.answer == "unknown":
        survey.stuck = _stuck(survey, proofs)
    if survey.loops.answer == "unknown" and proofs.nothing_loops:
        survey.loops = Verdict("no")
    for thing in [thing for thing, answer in survey.missed.items() if answer == "unknown"]:
        if survey.comes_to(thing) == "no" or thing in proofs.never_missed:
            survey.missed[thing] = "no"
    for promise in survey.flow.promises:
        kept = survey.promises[promise.id]
        if kept.holds == "unknown" or not (kept.route is None or is_shortest(kept.route)):
            found = proven(promise, proofs)
            survey.promises[promise.id] = kept if found.holds == "unknown" else found


def _stuck(survey: Survey, proofs: Proofs) -> Verdict:
    """What proofs say, where the stuck state nearest to the start has not been looked at."""
    trap = proofs.stuck
    if not isinstance(trap, Trap):
        return Verdict("no" if trap is False else "unknown")
    return into_stuck(survey) or Verdict("yes", partial(proofs.route_into, trap))


def _come_to(survey: Survey, proofs: Proofs) -> None:
    groups = {kind: survey.group(kind) for kind in KINDS}
    for kind, place, number, row in proofs.found():
        if groups[kind][place].answer == "unknown":
            groups[kind][place] = Verdict("yes", partial(proofs.route_to, kind, place, number, row))
    if proofs.complete:
        for group in groups.values():
            group.update({place: Verdict("no") for place, verdict in group.items() if verdict.answer == "unknown"})


def prove_regardless(survey: Survey, regardless: Regardless) -> None:
    """Answers what does not hang on facts at all."""
    if survey.stuck.answer == "unknown" and regardless.nobody_stuck:
        survey.stuck = Verdict("no")
    if survey.loops.answer == "unknown" and regardless.nothing_loops:
        survey.loops = Verdict("no")
    some_ending = any(verdict.answer == "yes" for verdict in survey.endings.values())
    for thing in regardless.never_missed | (regardless.on_every_way if some_ending else set()):
        if survey.missed[thing] == "unknown":
            survey.missed[thing] = "no"


def probe(survey: Survey, stop: Stopper) -> None:
    """Finds by probes what is come to, what is stuck, and what can be missed, until little is new or the stop."""
    stuck: Route | None = None
    without_news = 0
    for one in probes(survey.machine, stop):
        news = _come_to_by(survey, one)
        unknown = {thing for thing, answer in survey.missed.items() if answer == "unknown"}
        lost = {thing for thing in one.lost() & unknown if survey.comes_to(thing) == "yes"} if unknown else set()
        survey.missed.update(dict.fromkeys(lost, "yes"))
        survey.losses.update(dict.fromkeys(lost, one))
        stuck = stuck or one.stuck()
        some_ending = any(verdict.answer == "yes" for verdict in survey.endings.values())
        if stuck and some_ending and survey.stuck.answer == "unknown":
            survey.stuck, news = Verdict("yes", partial(SomeRoute, stuck)), True
        without_news = 0 if news or lost else without_news + 1
        settled = survey.stuck.answer != "unknown" and "unknown" not in survey.missed.values()
        if settled or without_news == survey.machine.limits.walks_without_news:
            return


def _come_to_by(survey: Survey, one: Probe) -> bool:
    """Notes what a probe came to that was not known to be come to; whether there was anything."""
    news = False
    for kind, place, trace in one.found():
        group = survey.group(kind)
        if group[place].answer == "unknown":
            group[place], news = Verdict("yes", trace), True
    return news


def look_widely(survey: Survey, joined: Joined, stop: Stopper) -> None:
    """Answers what is still unknown from all states, places joined being one; if they are that many fewer. Levels that
    may have been passed among joined ones are looked at one after the other, each kept apart."""
    if joined.start is None or survey.machine.limits.quotient_factor * len(joined.members) > len(joined.group):
        return
    wide = _widely(survey, joined, stop)
    if wide is None:
        return
    keep(survey, wide)
    for level in [thing for thing, answer in survey.missed.items() if answer == "unknown" and isinstance(thing, str)]:
        if stop():
            return
        apart = _widely(survey, Joined(survey.machine, level), stop)
        if apart is None:
            return
        survey.missed[level] = apart.missed[level]
        survey.losses |= {level: apart} if apart.missed[level] == "yes" else {}


def _widely(survey: Survey, joined: Joined, stop: Stopper) -> Survey | None:
    """What follows from all states with places joined, if the time is enough for that."""
    assert joined.start is not None
    graph = swept(joined, [joined.start], stop)
    if not graph.complete:
        return None
    wide = Survey(survey.flow, survey.rules, survey.machine, graph)
    conclude(wide, stop)
    return wide


def keep(survey: Survey, known: Survey) -> None:
    """Keeps what was known before where looking at more states has left it unknown."""
    for kind in KINDS:
        group, before = survey.group(kind), known.group(kind)
        group.update({place: before[place] for place, verdict in group.items() if verdict.answer == "unknown"})
    survey.crossed = {**known.crossed, **survey.crossed}
    if known.stuck.answer != "unknown" and not survey.settled:
        survey.stuck = _nearer(survey.stuck, known.stuck)
    survey.loops = known.loops if survey.loops.answer == "unknown" else survey.loops
    open_things = [thing for thing, answer in survey.missed.items() if answer == "unknown"]
    survey.missed.update({thing: known.missed[thing] for thing in open_things})
    lost = [thing for thing in open_things if known.missed[thing] == "yes" and thing not in known.losses]
    survey.losses = survey.losses | known.losses | dict.fromkeys(lost, known)
    for promise, kept in survey.promises.items():
        if kept.holds == "unknown" or not (kept.route is None or is_shortest(kept.route)):
            told = known.promises[promise]
            survey.promises[promise] = kept if told.holds == "unknown" else told


def _nearer(one: Verdict, other: Verdict) -> Verdict:
    """Of what two looks say the one that says something; with the shorter route if both do."""
    if one.answer != other.answer or one.answer != "yes":
        return other if one.answer == "unknown" else one
    return Verdict("yes", lambda: min(one.route, other.route, key=lambda route: (len(route), not is_shortest(route))))
