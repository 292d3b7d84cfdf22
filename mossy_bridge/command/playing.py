"""Calls that play a flow: routes, walks, and tours for play-tests."""

import sys
from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING

import click

from mossy_bridge.command.group import FILE, FOUND, NOTHING_WRONG, Unusable, cli, names, progress, read_file
from mossy_bridge.terminal import say, say_json

if TYPE_CHECKING:
    from mossy_bridge.model.flow import Flow
    from mossy_bridge.play.rules import Rules
    from mossy_bridge.play.state import Ended, State


@cli.command()
@FILE
@click.argument("target")
@click.option("--avoid", default="", help="Levels not to enter, with commas between.")
@click.option("--when", default="always", help="A condition that must hold at the target.")
@click.option("--budget", type=click.FloatRange(min=0), default=10.0, show_default=True, help="Seconds to search.")
def route(file: Path, target: str, avoid: str, when: str, budget: float) -> None:
    """The shortest route to a level, exit (LEVEL.EXIT), deed (LEVEL.DEED) or ending."""
    from mossy_bridge.language.parsing import WrongWording, canonical_condition
    from mossy_bridge.play.rules import Rules
    from mossy_bridge.reach.survey.route_query import route_to
    from mossy_bridge.reach.survey.verdicts import is_shortest

    flow = read_file(file)
    avoided = names(avoid)
    _refuse_unknown(Rules(flow), target, avoided)
    try:
        condition = canonical_condition(when)
    except WrongWording as error:
        raise Unusable([f"--when: {error}"]) from error
    _refuse_unknown_words(flow, condition)
    found = route_to(flow, target, frozenset(avoided), condition, budget)
    if found.answer != "yes":
        reason = "none exists" if found.answer == "no" else "time ran out before one was found"
        say(f"No route to {target}: {reason}.", err=True)
        sys.exit(FOUND)
    if not is_shortest(found.route):
        say("There may be a shorter route: looking for it took too long.", err=True)
    sys.exit(_play(Rules(flow), [str(move) for move in found.route], brief=True))


@cli.command()
@FILE
@click.option("--moves", "moves_file", type=click.File("r", encoding="utf-8"), default="-", help="One move a line.")
def walk(file: Path, moves_file: Iterable[str]) -> None:
    """Play moves, read from a file or standard input, and print the state after each."""
    from mossy_bridge.play.rules import Rules

    flow = read_file(file)
    try:
        lines = [line.strip() for line in moves_file]
    except UnicodeDecodeError as error:
        raise Unusable(["--moves: is not UTF-8 text"]) from error
    moves = [line for line in lines if line and not line.startswith("#")]
    sys.exit(_play(Rules(flow, resuming=True), moves))


@cli.command()
@FILE
@click.option(
    "--format",
    "form",
    type=click.Choice(["text", "json", "csv", "markdown"]),
    default="text",
    show_default=True,
    help="How to print it.",
)
@click.option("--budget", type=click.FloatRange(min=0), default=10.0, show_default=True, help="Seconds to search.")
def tour(file: Path, form: str, budget: float) -> None:
    """A play-test plan: few walks that together use all that can be used."""
    from mossy_bridge.checks.reports.tour_report import tour_csv, tour_markdown, tour_text, tour_values
    from mossy_bridge.reach.queries.transition_tour import transition_tour
    from mossy_bridge.reach.survey.run import survey_flow

    flow = read_file(file)
    with progress("surveying", budget) as tick:
        survey = survey_flow(flow, budget, tick)
    found = transition_tour(survey)
    if form == "json":
        say_json(tour_values(survey.rules, found))
    elif form == "csv":
        say(tour_csv(survey.rules, found), nl=False)
    else:
        say("\n".join((tour_text if form == "text" else tour_markdown)(survey.rules, found)))


def _refuse_unknown_words(flow: "Flow", condition: str) -> None:
    from mossy_bridge.language.evaluation import Vocabulary, unknown_in_condition
    from mossy_bridge.language.parsing import parse_condition
    from mossy_bridge.model.ids import nearest

    words = Vocabulary(flow)
    problems = []
    for unknown in unknown_in_condition(parse_condition(condition), words):
        likely = nearest(unknown.name, words.names(unknown))
        hint = f"; did you mean “{likely}”?" if likely else ""
        problems.append(f"--when: there is no {unknown.wanted} “{unknown.name}”{hint}")
    if problems:
        raise Unusable(problems)


def _refuse_unknown(rules: "Rules", target: str, avoided: list[str]) -> None:
    from mossy_bridge.model.addresses import things_of
    from mossy_bridge.model.ids import nearest

    flow = rules.flow
    levels = {level.id for level in flow.levels}
    places = levels | {ending.id for ending in flow.endings}
    places |= {f"{level.id}.{name}" for level in flow.levels for name in things_of(level)}
    problems = []
    for name, known in [(target, places), *((name, levels) for name in avoided)]:
        if name not in known:
            likely = nearest(name, known)
            problems.append(f"“{name}” is nothing in this flow" + (f"; did you mean “{likely}”?" if likely else ""))
    if problems:
        raise Unusable(problems)


def _play(rules: "Rules", moves: list[str], brief: bool = False) -> int:
    """Plays the moves and prints the state after each; with ``brief``, only what changed."""
    from mossy_bridge.play.narration import told_start, told_step
    from mossy_bridge.play.replay import play

    start = rules.begin()
    if start is None:
        say("The flow has no start to walk from.", err=True)
        return FOUND
    say(told_start(rules, start))
    before: State | Ended = start
    for number, taken in enumerate(play(rules, moves), start=1):
        if taken.after is None:
            say(f"stops at move {number}, “{taken.move}”: {taken.problem}")
            return FOUND
        say(told_step(rules, number, taken.move, before, taken.after, brief))
        before = taken.after
    return NOTHING_WRONG
