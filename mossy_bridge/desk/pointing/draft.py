"""The reader that is being made: what it says now, what it finds, and what it said before."""

import time
from collections import Counter
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path, PurePosixPath
from typing import Any

from msgspec import Struct
from msgspec.structs import replace
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from mossy_bridge.desk.workers.background_task import BackgroundTask, Job
from mossy_bridge.desk.workers.level_file_reading import TELL_EVERY
from mossy_bridge.exchange.folders import naming_pattern, with_files
from mossy_bridge.exchange.readers.expressions import wrong_expressions
from mossy_bridge.exchange.readers.processes import ReadingCancelled, ReadingProcesses
from mossy_bridge.exchange.readers.sampling import likely_form, read_samples
from mossy_bridge.exchange.readers.store import LevelFileStore
from mossy_bridge.level_files.contents import FileContents, fits
from mossy_bridge.level_files.destinations import all_names
from mossy_bridge.level_files.pointing.proposal import (
    CannotPropose,
    RuleProposal,
    proposals,
    proposed_unit,
    with_rule,
)
from mossy_bridge.level_files.pointing.sample import Sample
from mossy_bridge.level_files.pointing.telling import KIND_NAMES
from mossy_bridge.level_files.taking import words_of
from mossy_bridge.model.flow import Flow, Reader, Rule, ThingKind
from mossy_bridge.model.ids import id_from
from mossy_bridge.reach.survey.budget import Cancelled

MOST_SAMPLES = 8
"""So many files are looked at for what tells things apart."""
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
        self._given, self.flow = flow, flow or Flow()
        """The flow whose levels the files are; without one, that which they would make."""
        first = reader or first_reader(folder, files)
        self._now = Draft(first, ((),) * len(first.rules))
        self._earlier: list[Draft] = []
        self._later: list[Draft] = []
        self.file = next(iter(self.files), "")
        self.samples: tuple[Sample, ...] = ()
        self.contents: dict[str, FileContents] = {}
        """What the reader finds in each file, as far as that is known."""
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
        return next((sample for sample in self.samples if sample.file == self.file), None)

    @property
    def here(self) -> FileContents | None:
        """What is found in the file that is shown."""
        return self.contents.get(self.file)

    @property
    def busy(self) -> bool:
        """Whether something is being read or proposed."""
        return self._reading.busy or self._proposing.busy or self._wait.isActive()

    def choices(self, rule: int) -> tuple[RuleProposal, ...]:
        """The ways to tell apart what one rule finds."""
        return self._now.choices[rule]

    def counts(self, rule: int) -> tuple[int, int, int]:
        """How many things a rule finds in the file that is shown and in all read so far, and in how many of these."""

        def found(contents: FileContents) -> int:
            return sum(1 for thing in contents.things if thing.rule == rule)

        by_file = [found(contents) for contents in self.contents.values()]
        return found(self.here or FileContents()), sum(by_file), sum(map(bool, by_file))

    def problem(self, rule: int) -> str:
        """What is wrong with a rule, in a sentence; "" where nothing is."""
        reader = self._now.reader
        one = reader.rules[rule]
        wrong = next(wrong_expressions(reader.form, {"each": one.each, "take": one.take}), None)
        if wrong:
            return wrong[1]
        faults = (fault for contents in self.contents.values() for fault in contents.faults if fault.rule == rule)
        return next((fault.message for fault in faults), "")

    def problems(self) -> list[str]:
        """What keeps the reader from being kept."""
        reader = self._now.reader
        found = [] if reader.files.strip() else ["Say which files it reads."]
        found += [] if reader.rules else ["Say of something in the sample what it is."]
        for rule in reader.rules:
            wrong = next(wrong_expressions(reader.form, {"each": rule.each, "take": rule.take}), None)
            found += [f"{KIND_NAMES[rule.makes]}: {wrong[1]}."] if wrong else []
        return found

    def destinations(self) -> Counter[str]:
        """The texts by which exits say where they lead, and how often."""
        return Counter(
            thing.texts["level"]
            for contents in self.contents.values()
            for thing in contents.of("exit")
            if "level" in thing.texts
        )

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
        samples = (shown, *(sample for sample in self.samples if sample is not shown))
        found = {thing.node: self._now.reader.rules[thing.rule].makes for thing in (self.here or FileContents()).things}
        if all(found.get(node) == makes for node in nodes):
            self.said.emit(f"That is found already, among {KIND_NAMES[makes].lower()}.")
            return
        others = [(0, node) for node, kind in found.items() if kind != makes and node not in nodes]
        spawns = {thing.texts.get("id", "") for contents in self.contents.values() for thing in contents.of("spawn")}
        work = partial(
            _proposed, makes, samples, [(0, node) for node in nodes], others, self._level_names(), spawns - {""}
        )
        self._proposing.ask(work)

    def _level_names(self) -> set[str]:
        """All that a level can be called by in a file."""
        paths = [PurePosixPath(file) for file in self.known_files]
        names = {name for path in paths for name in (str(path), path.name, path.stem)}
        return names | all_names(self.flow) | set(self._now.reader.words)

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
        reader = self._now.reader
        right = [rule for rule in reader.rules if not any(wrong_expressions(reader.form, _plain(rule)))]
        places = [index for index, rule in enumerate(reader.rules) if rule in right]
        files = self.files
        shown = [self.file, *(file for file in files if file != self.file)] if self.file else files
        self._reading.ask(
            partial(_read, self.folder, replace(reader, rules=tuple(right)), places, shown, self._processes,
                    self._given or partial(_would_be, tuple(files), self.flow))
        )  # fmt: skip

    def _on_reported(self, told: object) -> None:
        if isinstance(told, tuple):
            self.progress = told
            self.progressed.emit()
        elif isinstance(told, SampledContents):
            known = {sample.file: sample for sample in self.samples}
            self.samples = tuple(
                known[new.file] if known.get(new.file) == new else new for new in told.samples
            )  # the same value keeps what it has worked out
            self.contents, self.flow = told.contents, told.flow
            self.changed.emit()

    def _on_read(self, contents: dict[str, FileContents]) -> None:
        self.contents = {**contents, **{file: self.contents[file] for file in self.contents if file in contents}}
        self.progress = None
        self.progressed.emit()
        self.changed.emit()

    def stop(self) -> None:
        """Ends what is under way."""
        self._wait.stop()
        self._reading.stop()
        self._proposing.stop()
        self._processes.close()


class SampledContents(Struct, frozen=True):
    """The samples, and what is found in them."""

    samples: tuple[Sample, ...]
    contents: dict[str, FileContents]
    flow: Flow


def _would_be(files: tuple[str, ...], before: Flow) -> Flow:
    """The flow that a folder's files would make, without what is in them."""
    if sorted(files) == sorted(level.file for level in before.levels):
        return before
    return with_files(Flow(), files, naming_pattern(files), linked=False)


def first_reader(folder: Path, files: Sequence[str]) -> Reader:
    """A reader without rules, for the commonest sort of file, called as their folder is."""
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


def _read(
    folder: Path,
    reader: Reader,
    places: Sequence[int],
    files: Sequence[str],
    processes: ReadingProcesses,
    flow: Flow | Callable[[], Flow],
    job: Job,
) -> dict[str, FileContents]:
    """What all files hold; samples first. Rules are told by their place in the whole reader."""

    def placed(contents: FileContents) -> FileContents:
        return replace(
            contents,
            things=tuple(replace(thing, rule=places[thing.rule]) for thing in contents.things),
            faults=tuple(replace(one, rule=places[one.rule]) if one.rule >= 0 else one for one in contents.faults),
        )

    try:
        samples, numbered = read_samples(folder, files[:MOST_SAMPLES], reader, processes, job.cancelled)
        first = {name: placed(contents) for name, contents in numbered.items()}
        job.report(SampledContents(samples, first, flow if isinstance(flow, Flow) else flow()))
        rest = read_all(folder, reader, files[MOST_SAMPLES:], processes, job.cancelled, job.report)
    except ReadingCancelled:
        raise Cancelled from None
    return {**first, **{name: placed(contents) for name, contents in rest.items()}}


def read_all(
    folder: Path,
    reader: Reader,
    files: Sequence[str],
    processes: ReadingProcesses,
    cancelled: Callable[[], bool],
    report: Callable[[object], None],
) -> dict[str, FileContents]:
    """What a reader finds in files, kept nowhere."""
    store, told = LevelFileStore(folder, processes, kept=False), 0.0

    def tell(done: int, of: int) -> None:
        nonlocal told
        if time.monotonic() - told >= TELL_EVERY:
            told = time.monotonic()
            report((done, of))

    return dict(store.read_files((reader,), files, cancelled, tell))
