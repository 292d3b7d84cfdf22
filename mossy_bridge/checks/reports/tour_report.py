"""A tour as text, Markdown, a table of comma-separated values, or values for JSON."""

import csv
from collections.abc import Iterator
from io import StringIO

from msgspec import Struct

from mossy_bridge.play.narration import named_move, told_value
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, State
from mossy_bridge.reach.queries.transition_tour import Tour


class TourLine(Struct, frozen=True):
    """One step of a tour in words: what to do, where one should then be, what the game should then remember of all
    that has changed, and whether something is tried for the first time."""

    walk: int
    step: int
    move: str
    do: str
    place: str
    facts: str
    first: bool


def tour_lines(rules: Rules, tour: Tour) -> Iterator[TourLine]:
    """Every step of every walk, both counted from 1."""
    for number, walk in enumerate(tour.walks, 1):
        before: State | Ended | None = rules.begin()
        for step, stop in enumerate(walk, 1):
            place, facts = _place(rules, stop.after), _facts(rules, before, stop.after)
            yield TourLine(number, step, str(stop.move), named_move(rules, stop.move), place, facts, bool(stop.first))
            before = stop.after


def _place(rules: Rules, state: State | Ended) -> str:
    if isinstance(state, Ended):
        name = next((one.name for one in rules.flow.endings if one.id == state.ending), "")
        return f"the end: {name or state.ending}"
    level = rules.levels[state.place].source
    spawn = level.spawn(state.respawn) if state.respawn else None
    return f"{level.title}, {spawn.name or spawn.id}" if spawn else level.title


def _facts(rules: Rules, before: State | Ended | None, after: State | Ended) -> str:
    if not isinstance(before, State) or not isinstance(after, State):
        return ""
    pairs = zip(rules.flow.facts, before.facts, after.facts, strict=True)
    return ", ".join(f"{fact.name or fact.id} {told_value(new)}" for fact, old, new in pairs if old != new)


def tour_summary(tour: Tour) -> str:
    """How many walks and moves it takes, and how many it takes at least."""
    walks = "1 walk" if len(tour.walks) == 1 else f"{len(tour.walks)} walks"
    told = f"{tour.things} exits, deeds, paths and tiles in {walks} of {tour.moves} moves together"
    return f"{told}; at least {tour.least} are needed"


def tour_text(rules: Rules, tour: Tour) -> Iterator[str]:
    """The tour as lines of text."""
    yield tour_summary(tour)
    for line in tour_lines(rules, tour):
        if line.step == 1:
            yield f"\nWalk {line.walk}, from the start"
        facts = f"; {line.facts}" if line.facts else ""
        yield f"{line.step:>4}. {line.do}: then in {line.place}{facts}{'' if line.first else '  (on the way)'}"


def tour_markdown(rules: Rules, tour: Tour) -> Iterator[str]:
    """The tour as a list to tick off in Markdown."""
    yield f"# Tour of {_plain(rules.flow.title) or 'the game'}\n\n{tour_summary(tour)}."
    for line in tour_lines(rules, tour):
        if line.step == 1:
            yield f"\n## Walk {line.walk}\n"
        facts = f"; {_plain(line.facts)}" if line.facts else ""
        do = f"**{_plain(line.do)}**" if line.first else _plain(line.do)
        yield f"- [ ] {line.step}. {do} → {_plain(line.place)}{facts}"


def _plain(text: str) -> str:
    return "".join(f"\\{letter}" if letter in "\\`*_[]<>#|&~" else letter for letter in text)


def tour_csv(rules: Rules, tour: Tour) -> str:
    """The tour as comma-separated values, with a heading."""
    out = StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["walk", "step", "move", "do", "place", "facts", "first"])
    for line in tour_lines(rules, tour):
        first = "yes" if line.first else "no"
        texts = map(_for_a_cell, (line.move, line.do, line.place, line.facts))
        writer.writerow([line.walk, line.step, *texts, first])
    return out.getvalue()


def _for_a_cell(text: str) -> str:
    """The text, so that no spreadsheet takes it for a formula."""
    return f"'{text}" if text[:1] in tuple("=+-@\t\r") else text


def tour_values(rules: Rules, tour: Tour) -> dict[str, object]:
    """The tour as values for JSON."""
    walks: list[list[dict[str, object]]] = [[] for _ in tour.walks]
    for line in tour_lines(rules, tour):
        walks[line.walk - 1].append({"move": line.move, "do": line.do, "place": line.place, "facts": line.facts,
                                     "first": line.first})  # fmt: skip
    return {"things": tour.things, "moves": tour.moves, "least": tour.least, "walks": walks}
