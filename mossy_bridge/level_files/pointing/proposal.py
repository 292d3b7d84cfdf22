"""A rule made by pointing: what it would say, and what it finds in the samples."""

from collections.abc import Collection, Sequence

from msgspec import Struct

from mossy_bridge.level_files.pointing.lines import line_pattern, matched
from mossy_bridge.level_files.pointing.sample import Sample
from mossy_bridge.level_files.pointing.taking import FieldTable, proposed_take
from mossy_bridge.level_files.pointing.telling import PLACES, TRIGGERS, is_number
from mossy_bridge.level_files.pointing.telling_apart import Place
from mossy_bridge.level_files.pointing.trees import NodePattern, node_patterns
from mossy_bridge.model.flow import Rule, ThingKind

MOST_CHOICES = 6
UNITS = (64, 48, 32, 24, 16, 12, 8)
FEWEST, SMALLEST = 5, 64
"""From so many different numbers, the largest of which is no smaller, the unit of a file is told."""


class CannotPropose(ValueError):  # noqa: N818 - named for what the user reads
    """No rule finds what was pointed at; the message says why and what to do."""


class RuleProposal(Struct, frozen=True):
    """A rule, and what it finds in the samples."""

    rule: Rule
    finds: frozenset[Place]
    fields: dict[str, list[str]]
    """All that can be taken of the things, by expression: the values in the order of the samples."""


def proposals(
    makes: ThingKind,
    samples: Sequence[Sample],
    pointed: Sequence[Place],
    others: Collection[Place] = (),
    levels: Collection[str] = (),
    spawns: Collection[str] = (),
) -> list[RuleProposal]:
    """Rules that find what is pointed at and all that is like it, the likeliest first. ``others`` have been said to be
    something else, ``levels`` is all that a level is called by, ``spawns`` the ids of spawn points. Raises
    :class:`CannotPropose`."""
    if samples[0].form == "text":
        return [_of_lines(makes, samples, pointed, levels, spawns)]
    wanted = list(pointed)
    found = node_patterns(samples, wanted, others, levels)
    if not found:
        raise CannotPropose("These have no name, and no place but in lists, in common: point at fewer at once.")
    return [_of_nodes(makes, samples, one, levels, spawns) for one in found[:MOST_CHOICES]]


def _of_nodes(
    makes: ThingKind, samples: Sequence[Sample], found: NodePattern, levels: Collection[str], spawns: Collection[str]
) -> RuleProposal:
    table = FieldTable(samples[sample].fields[number] for sample, number in sorted(found.finds))
    rule = Rule(makes=makes, each=found.each, take=proposed_take(makes, table, levels, spawns))
    return RuleProposal(rule, found.finds, table.values)


def _of_lines(
    makes: ThingKind,
    samples: Sequence[Sample],
    pointed: Sequence[Place],
    levels: Collection[str],
    spawns: Collection[str],
) -> RuleProposal:
    pattern = line_pattern(makes, samples, pointed, levels)
    if pattern is None:
        raise CannotPropose("These lines are built differently: point at one kind of them at a time.")
    lines = {
        (at, number): fields
        for at, sample in enumerate(samples)
        for number, node in enumerate(sample.nodes)
        if (fields := matched(pattern, node.text)) is not None
    }
    table = FieldTable(lines.values())
    take = proposed_take(makes, table, levels, spawns)
    if makes == "exit" and pattern.begins in TRIGGERS:
        take.setdefault("trigger", f"={pattern.begins}")
    rule = Rule(makes=makes, each=pattern.each, take=take)
    return RuleProposal(rule, frozenset(lines), table.values)


def with_rule(rules: Sequence[Rule], rule: Rule) -> tuple[Rule, ...]:
    """Rules with one for the plan in place of another, or one more of any other kind."""
    if rule.makes != "plan":
        return (*rules, rule)
    return (rule, *(one for one in rules if one.makes != "plan"))


def proposed_unit(proposal: RuleProposal) -> int:
    """How many units of the file are one of the plan, as what a rule finds shows it: files that count in points of the
    screen are drawn on a grid, and places and sizes are multiples of its step. 1 where they show none."""
    texts = [text for key in PLACES for text in proposal.fields.get(proposal.rule.take.get(key, ""), ())]
    numbers = [float(text) for text in texts if is_number(text)]
    if len(set(numbers)) < FEWEST or max(map(abs, numbers)) < SMALLEST:
        return 1
    return next((unit for unit in UNITS if all(number % unit == 0 for number in numbers)), 1)
