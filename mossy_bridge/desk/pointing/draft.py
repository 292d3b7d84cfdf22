"""The reader that is being made: what it says now, what it finds, and what it said before."""

from collections import Counter
from collections.abc import Sequence
from functools import partial
from pathlib import Path, PurePosixPath
from typing import Any

from msgspec import Struct
from msgspec.structs import replace
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from mossy_bridge.desk.pointing.tried_reader import TriedReader, tried
from mossy_bridge.desk.workers.background_task import BackgroundTask, Job
from mossy_bridge.exchange.readers.expressions import group_names, wrong_expressions
from mossy_bridge.exchange.readers.processes import ReadingProcesses
from mossy_bridge.exchange.readers.sampling import likely_form
from mossy_bridge.level_files.contents import FileContents, FileFault, fits
from mossy_bridge.level_files.destinations import all_names
from mossy_bridge.level_files.pointing.proposal import (
    CannotPropose,
    RuleProposal,
    proposals,
    proposed_unit,
    with_rule,
)
from mossy_bridge.level_files.pointing.sample import Sample
from mossy_bridge.level_files.pointing.taking import FieldTable
from mossy_bridge.level_files.pointing.telling import KIND_NAMES
from mossy_bridge.level_files.taking import words_of
from mossy_bridge.model.flow import Flow, Reader, Rule, ThingKind
from mossy_bridge.model.ids import id_from

WAIT = 200
"""Milliseconds after a key until what was typed is tried."""


class Draft(Struct, frozen=True):
    """A reader, and for each of its rules the other ones that the same pointing would allow."""

    reader: Reader
    choices: tuple[tuple[RuleProposal, ...], ...] = ()


class ReaderDraft(QObject):
    """``changed`` says that the reader, or what is known of what it finds, is another; ``progressed`` that more files
    have been read; ``said`` brings a sentence about what has just been done."""

    changed = pyqtSignal()
    progressed = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, folder: Path, flow: Flow | None, files: Sequence[str], reader: Reader | None = None):
        super().__init__()
        self.folder, self.known_files = folder, tuple(files)
        self._given = flow
        first = reader or first_reader(folder, files if flow else files[:1])
        self._now = Draft(first, ((),) * len(first.rules))
        self._earlier: list[Draft] = []
        self._later: list[Draft] = []
        self.file = next(iter(self.files), "")
        self.found = TriedReader(flow=flow or Flow())
        """What it finds, as far as that is known."""
        self.progress: tuple[int, int] | None = None
        self._processes = ReadingProcesses()
        self._reading, self._proposing = BackgroundTask(self), BackgroundTask(self)
        self._reading.reported.connect(self._on_reported)
        self._reading.done.connect(self._on_read)
        self._proposing.done.connect(self._on_proposed)
        self._wait = QTimer(self)
        self._wait.setSingleShot(True)
        self._wait.setInterval(WAIT)
        self._wait.timeout.connect(self._read)

    # -- what there is ---------------------------------------------------------------------------------

    @property
    def reader(self) -> Reader:
        """The reader as it is now."""
        return self._now.reader

    @property
    def files(self) -> list[str]:
        """The files that it fits."""
        return [file for file in self.known_files if fits(self._now.reader, file)]

    @property
    def sample(self) -> Sample | None:
        """The file that is shown."""
        return self.found.sample(self.file)

    @property
    def here(self) -> FileContents | None:
        """What is found in the file that is shown."""
        return self.found.contents.get(self.file)

    @property
    def busy(self) -> bool:
        """Whether something is being read or proposed."""
        return self._reading.busy or self._proposing.busy or self._wait.isActive()

    def choices(self, rule: int) -> tuple[RuleProposal, ...]:
        """The ways to tell apart what one rule finds."""
        return self._now.choices[rule]

    def fields(self, index: int) -> dict[str, list[str]]:
        """All that can be taken of what a rule finds, with the values there are in the samples."""
        rule = self._now.reader.rules[index]
        for proposal in self._now.choices[index]:
            if proposal.rule.each == rule.each:
                return proposal.fields
        sample = self.sample
        if sample is None or sample.form == "text":
            return {name: [] for name in group_names(rule.each)} if sample else {}
        nodes = [thing.node for thing in (self.here or FileContents()).things if thing.rule == index]
        return FieldTable(sample.fields[node] for node in nodes if 0 <= node < len(sample.nodes)).values

    def counts(self, rule: int) -> tuple[int, int, int]:
        """How many things a rule finds in the file that is shown and in all read so far, and in how many of these."""
        counts = self.found.counts
        by_file = [found[rule] for found in counts.values()]
        return counts[self.file][rule] if self.file in counts else 0, sum(by_file), sum(map(bool, by_file))

    def problem(self, rule: int) -> str:
        """What is wrong with a rule, in a sentence that names the file if it is about one; "" where nothing is."""
        reader = self._now.reader
        wrong = next(wrong_expressions(reader.form, _plain(reader.rules[rule])), None)
        if wrong:
            return wrong[1]
        failing = self.failing(rule)
        if not failing:
            return ""
        file, fault = next(iter(failing.items()))
        more = f" So it is in {len(failing) - 1:,} more files." if len(failing) > 1 else ""
        return f"{file}: {replace(fault, rule=-1).told()}.{more}"

    def failing(self, rule: int) -> dict[str, FileFault]:
        """The files in which a rule fails, each with why."""
        contents = self.found.contents.items()
        return {file: fault for file, held in contents for fault in held.faults if fault.rule == rule}

    def problems(self) -> list[str]:
        """What keeps the reader from being kept."""
        reader = self._now.reader
        found = [] if reader.files.strip() else ["Say which files it reads."]
        found += [] if reader.rules else ["Say of something in the sample what it is."]
        for rule in reader.rules:
            wrong = next(wrong_expressions(reader.form, _plain(rule)), None)
            found += [f"{KIND_NAMES[rule.makes]}: {wrong[1]}."] if wrong else []
        return found

    # -- what is done ----------------------------------------------------------------------------------

    def begin(self) -> None:
        """Reads the first time."""
        self._read()

    def look_at(self, file: str) -> None:
        """Shows another file."""
        if file != self.file:
            self.file = file
            self._read()
            self.changed.emit()

    def set_reader(self, **values: Any) -> None:
        """Changes what the reader says beside its rules."""
        reader = replace(self._now.reader, **values)
        if "form" in values:
            reader = replace(reader, rules=())
        self._set(Draft(reader, self._now.choices if "form" not in values else ()))

    def set_rule(self, index: int, **values: Any) -> None:
        """Changes a rule."""
        self._with_rule(index, replace(self._now.reader.rules[index], **values))

    def choose(self, index: int, proposal: RuleProposal) -> None:
        """Tells the things of a rule apart in another way."""
        rule = self._now.reader.rules[index]
        self._with_rule(index, replace(proposal.rule, anchor=rule.anchor, complete=rule.complete))

    def _with_rule(self, index: int, rule: Rule) -> None:
        rules = list(self._now.reader.rules)
        if rules[index] != rule:
            rules[index] = rule
            self._set(Draft(replace(self._now.reader, rules=tuple(rules)), self._now.choices))

    def remove_rule(self, index: int) -> None:
        """Takes a rule out."""
        rules, choices = list(self._now.reader.rules), list(self._now.choices)
        del rules[index], choices[index]
        self._set(Draft(replace(self._now.reader, rules=tuple(rules)), tuple(choices)))

    def set_word(self, text: str, meaning: str) -> None:
        """Says what a text means as a destination; "" as it stands."""
        words = {known: meant for known, meant in self._now.reader.words.items() if known != text}
        self.set_reader(words={**words, text: meaning} if meaning else words)

    def undo(self) -> None:
        """Back to what the reader was before the last change."""
        self._go(self._earlier, self._later)

    def redo(self) -> None:
        """Forward again."""
        self._go(self._later, self._earlier)

    @property
    def can_undo(self) -> bool:
        """Whether there was something before."""
        return bool(self._earlier)

    @property
    def can_redo(self) -> bool:
        """Whether something has been taken back."""
        return bool(self._later)

    def _go(self, source: list[Draft], target: list[Draft]) -> None:
        if source:
            target.append(self._now)
            self._now = source.pop()
            self._after_change()

    def _set(self, draft: Draft) -> None:
        if draft.reader == self._now.reader:
            return
        self._earlier.append(self._now)
        self._later.clear()
        self._now = draft
        self._after_change()

    def _after_change(self) -> None:
        files = self.files
        if self.file not in files:
            self.file = next(iter(files), "")
        self._wait.start()
        self.changed.emit()

    # -- pointing --------------------------------------------------------------------------------------

    def point(self, makes: ThingKind, nodes: Sequence[int]) -> None:
        """Makes a rule of what has been pointed at in the sample shown."""
        shown = self.sample
        if shown is None or not nodes:
            self.said.emit("Point at something in the sample first.")
            return
        samples = (shown, *(sample for sample in self.found.samples if sample is not shown))
        found = {thing.node: thing.kind for thing in (self.here or FileContents()).things}
        if all(found.get(node) == makes for node in nodes):
            self.said.emit(f"That is found already, among {KIND_NAMES[makes].lower()}.")
            return
        others = [(0, node) for node, kind in found.items() if kind != makes and node not in nodes]
        work = partial(
            _proposed, makes, samples, [(0, node) for node in nodes], others, self._level_names(), self.found.spawns
        )
        self._proposing.ask(work)

    def _level_names(self) -> set[str]:
        """All that a level can be called by in a file."""
        paths = [PurePosixPath(file) for file in self.known_files]
        names = {name for path in paths for name in (str(path), path.name, path.stem)}
        return names | all_names(self.found.flow) | set(self._now.reader.words)

    def _on_proposed(self, answer: tuple[ThingKind, Sequence[RuleProposal], str]) -> None:
        makes, found, doubt = answer
        if not found:
            self.said.emit(doubt)
            return
        first, reader = found[0], self._now.reader
        rules = with_rule(reader.rules, first.rule)
        choices = [choice for rule, choice in zip(reader.rules, self._now.choices, strict=True) if rule in rules]
        choices.insert(rules.index(first.rule) if makes == "plan" else len(choices), tuple(found))
        told = f"{KIND_NAMES[makes]}: {len(first.finds)} found where you look."
        unit = proposed_unit(first) if makes in ("solid", "exit") else 1
        if unit > 1 and reader.scale == 1.0:
            reader = replace(reader, scale=1 / unit)
            told += f" Its numbers are multiples of {unit}: so many are taken as one plan unit."
        self._set(Draft(replace(reader, rules=rules), tuple(choices)))
        self.said.emit(told)

    # -- reading ---------------------------------------------------------------------------------------

    def _read(self) -> None:
        work = partial(
            tried, self.folder, self._now.reader, self.files, self.file, self._given, self.found, self._processes
        )
        self._reading.ask(work)

    def _on_reported(self, told: object) -> None:
        if isinstance(told, TriedReader):
            self._on_found(told)
        elif isinstance(told, tuple):
            self.progress = told
            self.progressed.emit()

    def _on_read(self, found: TriedReader) -> None:
        self.progress = None
        self.progressed.emit()
        self._on_found(found)

    def _on_found(self, found: TriedReader) -> None:
        self.found = found
        self.changed.emit()

    def stop(self) -> None:
        """Ends what is under way."""
        self._wait.stop()
        self._reading.stop()
        self._proposing.stop()
        self._processes.close()


def first_reader(folder: Path, files: Sequence[str]) -> Reader:
    """A reader without rules, for files in a folder with the ending that most of some have, called as the folder is."""
    sorts = Counter((PurePosixPath(file).parent, PurePosixPath(file).suffix) for file in files)
    (parent, suffix), _ = sorts.most_common(1)[0] if sorts else ((PurePosixPath("levels"), ".xml"), 0)
    pattern = str(parent / f"*{suffix}")
    sample = next((file for file in files if PurePosixPath(file).match(pattern)), "")
    form = likely_form(folder, sample) if sample else "xml"
    name = f"{words_of(parent.name)} files" if parent.name else "Level files"
    return Reader(id=id_from(name, (), "reader"), name=name, files=pattern, form=form)


def _plain(rule: Rule) -> dict[str, Any]:
    return {"each": rule.each, "take": rule.take}


def _proposed(
    makes: ThingKind,
    samples: Sequence[Sample],
    pointed: Sequence[tuple[int, int]],
    others: Sequence[tuple[int, int]],
    levels: set[str],
    spawns: set[str],
    _job: Job,
) -> tuple[ThingKind, list[RuleProposal], str]:
    try:
        return makes, proposals(makes, samples, pointed, others, levels, spawns), ""
    except CannotPropose as error:
        return makes, [], str(error)
