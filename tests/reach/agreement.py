"""Compares the survey, the proofs, and what is said after three states with the plain reference on many random flows,
and prints how many had what.

Run: python -m tests.reach.agreement [FLOWS] [FIRST SEED] [KIND]. Of each kind so many flows, or of the one named, such
as ``rewinding_flow``. Stops at the first disagreement with its seed.
"""

import sys
from collections import Counter

from msgspec.structs import replace

from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.survey.run import survey_flow
from tests.reach.monotone.test_prover import AgainstPlain as ProofsAgainstPlain
from tests.reach.survey.test_run import AgainstPlain
from tests.reach.survey.test_strategy import AgainstPlain as ProvingAgainstPlain
from tests.support.plain import Plain
from tests.support.random_flows import MAKERS


def features(flow):
    """What a flow has, by name."""
    exits = [exit_ for level in flow.levels for exit_ in level.exits]
    deeds = [deed for level in flow.levels for deed in level.deeds]
    asked = " ".join([exit_.opens + " " + exit_.trigger.when for exit_ in exits] + [deed.when for deed in deeds]
                     + [level.opens for level in flow.levels])  # fmt: skip
    yield from {f"trigger {exit_.trigger.kind}" for exit_ in exits}
    yield from {f"leads {to.kind}" for exit_ in exits for to in exit_.destinations}
    yield from {f"kind {level.kind}" for level in flow.levels}
    yield from {f"deed repeats {deed.repeats}" for deed in deeds}
    yield from {f"cursor {level.cursor}" for level in flow.levels if level.tiles}
    yield from {f"lifetime {fact.lifetime}" for fact in flow.facts}
    yield from {f"promise {promise.kind}" for promise in flow.promises}
    yield from {f"asks {vector}" for vector in ("has", "lacks", "at least", "at most", "exactly", " is ", "seen", "done",
                                            "not (", " or ", " and ", " of (") if vector in asked}  # fmt: skip
    yield from (f"progress {flow.progress}", f"saving {flow.saving}")
    for name, there in (
        ("fresh exit", any(exit_.fresh for exit_ in exits)),
        ("otherwise", any(len(exit_.destinations) > 1 for exit_ in exits)),
        ("checkpoint", any(deed.checkpoint for deed in deeds)),
        ("deed that saves", any(deed.saves for deed in deeds)),
        ("zones", any(level.zones for level in flow.levels)),
        ("paths", any(level.paths for level in flow.levels)),
        ("arrival effects", any(level.on_arrival for level in flow.levels)),
        ("level that does not ship", any(not level.ships for level in flow.levels)),
        ("fact that rewinds", any(fact.rewinds for fact in flow.facts)),
        ("locked level", any(level.opens != "always" for level in flow.levels)),
    ):
        if there:
            yield name


def outcomes(survey):
    """What the survey found, by name."""
    yield f"stuck {survey.stuck.answer}"
    yield f"loops {survey.loops.answer}"
    if "yes" in survey.missed.values():
        yield "something can be missed"
    if any(verdict.answer == "no" for verdict in survey.levels.values()):
        yield "a level is never reached"
    if any(verdict.answer == "yes" for verdict in survey.endings.values()):
        yield "an ending is reached"
    if survey.program.start and survey.program.compile_all(lambda: False):
        quotient = QuotientGraph(survey.program)
        if len(quotient.members) < len(quotient.component):
            yield "places joined there and back"
    states = len(survey.graph)
    yield "states: " + next(f"up to {most}" for most in (1, 10, 100, 1000, 10_000) if states <= most)


def meaning(survey):
    """Every verdict of a survey, but for how it was found."""
    groups = (survey.levels, survey.exits, survey.deeds, survey.paths, survey.tiles, survey.endings)
    answers = [{name: verdict.answer for name, verdict in group.items()} for group in groups]
    return answers, survey.stuck.answer, survey.loops.answer, survey.missed


def means_something_else(survey):
    """Whether some verdict would be another if nothing rewound."""
    flow = survey.flow
    lasting = replace(flow, facts=tuple(replace(fact, rewinds=False) for fact in flow.facts))
    return lasting != flow and meaning(survey_flow(lasting, 60)) != meaning(survey)


def main(count, first, kind=""):
    """Compares and prints."""
    makers = [maker for maker in MAKERS if kind in ("", maker.__name__)]
    whole, prover = AgainstPlain("test_every_verdict_agrees"), ProofsAgainstPlain("test_random_flows")
    had, found = Counter(), Counter()
    few = ProvingAgainstPlain("test_whatever_is_said_after_three_states_is_true")
    few.setUp()
    prover.setUp()
    compared = shown = 0
    for seed in range(first, first + count):
        for maker in makers:
            flow, few.what = maker(seed), f"{maker.__name__}({seed})"
            try:
                survey = whole.check(flow)
                answer = prover.check(flow)
                if answer is not None:
                    few.check(flow, Plain(flow))
            except Exception as error:  # noqa: BLE001 - whatever it is, the seed is told
                print(f"{maker.__name__}({seed}) disagrees: {type(error).__name__}: {error}")
                return 1
            if survey:
                compared += 1
                had.update(set(features(flow)))
                found.update(outcomes(survey))
                found["some verdict would be another if nothing rewound"] += means_something_else(survey)
            shown += bool(answer)
    print(
        f"{compared} flows compared, none disagrees; {len(makers) * count - compared} were too large for the reference"
    )
    print(f"about being stuck the proofs alone left nothing open in {shown}")
    print(f"after three states {few.said} verdicts were said and {few.unknown} left unknown; "
          f"{few.shortest} routes by proof were as short as they can be, {few.routes} routes into losses, traps and "
          f"circles led there, and {few.shown} promises were judged")  # fmt: skip
    kinds = sorted({kind for kind, _ in few.counted})
    print("\nanswered after three states:      yes      no unknown")
    for kind in kinds:
        print(f"  {kind:26}" + "".join(f"{few.counted[kind, answer]:8}" for answer in ("yes", "no", "unknown")))
    for title, counts in (("had", had), ("found", found)):
        print(f"\n{title}:")
        for name, number in sorted(counts.items()):
            print(f"  {name:28}{number:7}")
    return 0


if __name__ == "__main__":
    numbers = [int(argument) for argument in sys.argv[1:3]]
    sys.exit(main(*(numbers + [5000, 0][len(numbers) :]), *sys.argv[3:4]))
