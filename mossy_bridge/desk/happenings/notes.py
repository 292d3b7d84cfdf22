"""What of a window is noted: flows opened and saved, surveys, faults."""

import re

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.happenings.log import LOG, named
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.file_commands import Files
from mossy_bridge.desk.shell.faults import Fault, Faults
from mossy_bridge.desk.workers.surveyor import Surveyor
from mossy_bridge.language.numbers import counted


def note_happenings(document: Document, surveyor: Surveyor, files: Files, faults: Faults) -> None:
    """Notes what happens in a window."""

    def told(doing: str) -> None:
        LOG.info(
            "%s %s, %s", doing, named(document.path or document.title), counted(len(document.flow.levels), "level")
        )

    document.opened.connect(lambda: told("opened"))
    document.saved.connect(lambda: told("saved"))
    surveyor.appraised.connect(_note_appraisal)
    surveyor.failed.connect(lambda words: LOG.info("the survey failed: %s", named(words)))
    files.not_kept.connect(lambda why: LOG.info("a version was not kept: %s", named(why)) if why else None)
    faults.happened.connect(_note_fault)


def _note_appraisal(found: Appraisal) -> None:
    """Notes how a survey went."""
    survey = found.survey
    LOG.info("surveyed %s in %.0f ms: %s, %s; %d broken, %d suspicious", counted(len(found.flow.levels), "level"),
             1000 * survey.seconds, counted(len(survey.graph), "state"), "settled" if survey.decided else "not settled",
             found.groups.count("error"), found.groups.count("warning"))  # fmt: skip


def _note_fault(fault: Fault) -> None:
    """Notes a fault: where in the program it was; what it says of itself counts as a name, for it may quote one."""
    LOG.info("a fault in the program:\n%s", "\n".join(map(_line, fault.details.rstrip().splitlines())))


def _line(line: str) -> str:
    frame = re.match(r'  File ".*?(mossy_bridge/[^"]*|[^"/]*)"(.*)', line)
    if frame:
        return f"  {frame[1]}{frame[2]}"
    if line.startswith((" ", "Traceback", "During", "The above")) or not line:
        return line
    kind, _, said = line.partition(": ")
    return f"{kind}: {named(said)}" if said and re.fullmatch(r"[\w.]+", kind) else named(line)
