"""What is still to be done or reviewed, and waivers that no longer waive anything."""

from collections.abc import Iterator

from mossy_bridge.checks.finding import Found, Repair, Severity, accepted_by
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.model.addresses import long_title, place_exists, things_of
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import ChecklistItem, Flow, Level, Waiver


@check("checklist-open", "warning", "upkeep", "Every level was to have it.")
def checklist_open(here: Inspection) -> Iterator[Found]:
    """An item of the checklist is not ticked for a level that it is about.

    Example: Three levels have no music of their own.
    To mend: Tick it on the face Checklist once it is done.
    """
    accepted = {waiver.at for waiver in here.written.waivers if waiver.check == "checklist-open"}
    for item in here.flow.checklist:
        lacking = [level for level in here.flow.levels if _lacks(level, item)]
        open_ = [level for level in lacking if level.id not in accepted] or lacking
        if open_:
            text = item.text or item.id
            who = f"{open_[0].title} has" if len(open_) == 1 else f"{len(open_)} levels have"
            yield Found(tuple(level.id for level in open_), f"{who} not ticked “{text}”.")


def _lacks(level: Level, item: ChecklistItem) -> bool:
    return level.kind in item.kinds and item.id not in level.ticked


@check("copy-unreviewed", "warning", "upkeep", "A copy does at first what its original does.")
def copy_unreviewed(here: Inspection) -> Iterator[Found]:
    """A copied level still has places on its list that nobody has looked at.

    Example: The copy's doors lead where the original's do.
    To mend: Look at each place; the list on the bench empties itself.
    """
    for level in here.flow.levels:
        if level.unreviewed:
            told = ", ".join(_unreviewed(here, level))
            yield Found((level.id,), f"{level.title} is a copy; nobody has looked at {told} yet.")


def _unreviewed(here: Inspection, level: Level) -> list[str]:
    """What to look at, the exits that still lead where the original's do first."""
    original = here.flow.level(level.copied_from)
    things = things_of(level)

    def as_in_original(part: str) -> bool:
        exit_ = level.exit(part.partition(" ")[2]) if part.startswith("exit ") else None
        twin = original.exit(exit_.id) if original and exit_ else None
        return bool(exit_ and twin and exit_.to == twin.to)

    def named(part: str) -> str:
        kind, _, name = part.partition(" ")
        thing = things.get(name)
        told = f"{kind} {getattr(thing, 'name', '') or name}".strip()
        return f"{told} (leads where the original does)" if as_in_original(part) else told

    return [named(part) for part in sorted(level.unreviewed, key=lambda part: not as_in_original(part))]


@check("trial-setting", "hint", "upkeep", "It is not what is to be delivered.")
def trial_setting(here: Inspection) -> Iterator[Found]:
    """A value is tried that is not the one to be delivered.

    Example: The start is set to Pan Row, to try it.
    To mend: Put back what is delivered, on the face For testing.
    """
    wrong = here.undeliverable(here.written)
    for setting in here.written.trial_settings:
        if place_exists(here.written, setting.at):
            why = f" ({setting.why})" if setting.why else ""
            message = f"{long_title(here.written, setting.at)} is set for testing only{why}."
            if setting.at in wrong:
                message += f" What is to be delivered cannot stand there: {wrong[setting.at]}"
            severity: Severity | None = "error" if here.final or setting.at in wrong else None
            yield Found((setting.at,), message, severity=severity)


@check("waiver-idle", "hint", "upkeep", "It would hide the same finding if that ever came back.", disk=True)
def waiver_idle(here: Inspection) -> Iterator[Found]:
    """Something was accepted that no check finds any more.

    Example: The gap behind 1-3 is filled by now.
    To mend: Take the acceptance back; the repair does.

    Runs behind all others; says nothing of checks that have not run, or not to their end.
    """
    if not here.survey.settled:
        return
    accepted = {key for finding in here.found for key in accepted_by(finding)}
    for waiver in here.written.waivers:
        needed = (waiver.check, waiver.at) in accepted or _waits(here, waiver)
        if needed or waiver.check not in here.ran:
            continue
        message = f"“{waiver.check}” at {waiver.at or 'the flow'} is accepted, but is not found any more."
        yield Found((waiver.at,) if waiver.at else (), message, repair=_without(waiver))


def _waits(here: Inspection, waiver: Waiver) -> bool:
    """Whether a level that is let off the checklist has something of it left."""
    level = here.flow.level(waiver.at) if waiver.check == "checklist-open" else None
    return level is not None and any(_lacks(level, item) for item in here.flow.checklist)


def _without(waiver: Waiver) -> Repair:
    def edit(flow: Flow) -> Flow:
        return edits.withdraw(flow, waiver.check, waiver.at)

    return Repair("Take the acceptance back", edit)
