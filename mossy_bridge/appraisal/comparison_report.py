"""A comparison of two versions as text, as plain values and as Markdown."""

from collections.abc import Iterator, Sequence
from typing import Any

from mossy_bridge.appraisal.comparison import LeadChange, ToldChange, VersionComparison
from mossy_bridge.appraisal.saved_games import SavedGame
from mossy_bridge.checks.reports.survey_report import finding_values, route_texts

EFFECTS = ("Where exits now lead by the order", "Verdicts", "Saved games")
"""The parts that tell what changes do."""
MOST_MOVES = 8
"""So many moves of a route are told in text."""


def comparison_values(found: VersionComparison) -> dict[str, Any]:
    """One object with all of it."""
    return {
        "changes": [_change_values(one) for one in found.changes],
        "findings": {"came": list(map(finding_values, found.came)), "went": list(map(finding_values, found.went))},
        "verdicts": [{"at": one.at, "old": one.old, "new": one.new} for one in found.verdicts],
        "leads": [{"exit": one.exit, "old": one.old, "new": one.new} for one in found.leads],
        "saved_games": [_game_values(one) for one in found.saved_games],
    }


def _change_values(told: ToldChange) -> dict[str, Any]:
    change = told.change
    return {"kind": change.kind, "at": change.at, "old": change.old, "new": change.new, "words": told.words}


def _game_values(game: SavedGame) -> dict[str, Any]:
    return {
        "level": game.level,
        "respawn": game.respawn,
        "resumes": game.resumes,
        "why": game.why,
        "route": route_texts(game.route),
    }


def change_lines(changes: Sequence[ToldChange], leads: Sequence[LeadChange]) -> Iterator[str]:
    """The changes one a line, with a sign before each, and what the order now leads elsewhere."""
    signs = {"added": "+", "removed": "-", "changed": "~", "moved": ">"}
    for one in changes:
        yield f"{signs[one.change.kind]} {one.words}"
    for lead in leads:
        yield f"~ {lead_words(lead)}"


def effect_lines(found: VersionComparison) -> Iterator[str]:
    """What the changes do: to verdicts, where the order leads, and to saved games."""
    for heading, lines in _parts(found):
        if heading in EFFECTS:
            yield from lines


def comparison_text(found: VersionComparison) -> Iterator[str]:
    """All of it, part by part."""
    for heading, lines in _parts(found):
        if lines:
            yield heading
            yield from (f"  {line}" for line in lines)
    if not any(lines for _, lines in _parts(found)):
        yield "Nothing differs."


def comparison_markdown(found: VersionComparison) -> Iterator[str]:
    """The same as Markdown."""
    yield "# What has changed"
    for heading, lines in _parts(found):
        if lines:
            yield ""
            yield f"## {heading}"
            yield ""
            yield from (f"* {line.replace('*', chr(92) + '*').replace('_', chr(92) + '_')}" for line in lines)
    if not any(lines for _, lines in _parts(found)):
        yield ""
        yield "Nothing differs."


def _parts(found: VersionComparison) -> list[tuple[str, list[str]]]:
    """Each part with its heading."""
    return [
        ("Changes", [one.words for one in found.changes]),
        ("Where exits now lead by the order", [lead_words(one) for one in found.leads]),
        ("Verdicts", [one.words for one in found.verdicts]),
        ("Findings that came", [f"{one.check}: {one.message}" for one in found.came]),
        ("Findings that went", [f"{one.check}: {one.message}" for one in found.went]),
        ("Saved games", [_game_words(one) for one in found.saved_games if one.resumes != "yes"]),
    ]


def lead_words(lead: LeadChange) -> str:
    """Where an exit leads now."""
    return f"exit {lead.exit} leads to {lead.new or 'nothing'} instead of {lead.old or 'nothing'}"


def _game_words(game: SavedGame) -> str:
    """A saved game that is not sure to be resumed, and how one comes by it."""
    where = f"{game.level}{f' at {game.respawn}' if game.respawn else ''}"
    if game.resumes == "unknown":
        return f"saved in {where}: whether it can be resumed is not known for all games"
    why = {"gone": "the place is gone", "does not ship": "the level does not ship", "stuck": "the player is stuck then"}
    moves = route_texts(game.route)
    shown = ", ".join(moves[:MOST_MOVES]) + (f" … {len(moves) - MOST_MOVES} more" if len(moves) > MOST_MOVES else "")
    return f"saved in {where}: can no longer be resumed, {why[game.why]}" + (f" ({shown})" if shown else "")
