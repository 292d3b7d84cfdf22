"""What a reader that is being made finds: in the samples first, then in all files. Worked out beside the window."""

import time
from collections import Counter
from collections.abc import Callable, Sequence
from functools import cached_property
from pathlib import Path

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.desk.workers.background_task import Job
from mossy_bridge.desk.workers.level_file_reading import TELL_EVERY
from mossy_bridge.exchange.folders import naming_pattern, with_files
from mossy_bridge.exchange.readers.processes import ReadingCancelled, ReadingProcesses
from mossy_bridge.exchange.readers.sampling import read_samples
from mossy_bridge.exchange.readers.store import LevelFileStore
from mossy_bridge.level_files.contents import FileContents, FileThing
from mossy_bridge.level_files.pointing.sample import Sample
from mossy_bridge.level_files.taking import take_over
from mossy_bridge.model.flow import Flow, Level, Plan, Reader
from mossy_bridge.reach.survey.budget import Cancelled

MOST_SAMPLES = 8
"""So many files are looked at for what tells things apart."""
MOST_DRAWN = 300
"""So many things of each kind are drawn of a sample, so that drawing stays quick."""


class TriedReader(Struct, frozen=True, dict=True):
    """What a reader finds, as far as that is known."""

    samples: tuple[Sample, ...] = ()
    contents: dict[str, FileContents] = {}
    flow: Flow = Flow()
    """The flow whose levels the files are, or would be."""
    drawn: Level = Level(id="sample")
    """The file that is shown as a level, with the first things of it."""
    drawn_things: tuple[FileThing, ...] = ()
    """Those things."""

    def sample(self, file: str) -> Sample | None:
        """One of the samples."""
        return next((sample for sample in self.samples if sample.file == file), None)

    @cached_property
    def counts(self) -> dict[str, Counter[int]]:
        """How many things each rule finds in each file."""
        return {file: Counter(thing.rule for thing in held.things) for file, held in self.contents.items()}

    @cached_property
    def destinations(self) -> Counter[str]:
        """The texts by which exits say where they lead, and how often."""
        exits = (thing for held in self.contents.values() for thing in held.of("exit"))
        return Counter(thing.texts["level"] for thing in exits if "level" in thing.texts)

    @cached_property
    def spawns(self) -> set[str]:
        """The ids of spawn points."""
        found = (thing.texts.get("id", "") for held in self.contents.values() for thing in held.of("spawn"))
        return set(found) - {""}


def tried(
    folder: Path,
    reader: Reader,
    files: Sequence[str],
    shown: str,
    flow: Flow | None,
    before: TriedReader,
    processes: ReadingProcesses,
    job: Job,
) -> TriedReader:
    """What a reader finds in files. What is found in the samples, the one that is ``shown`` first of all, is reported
    as soon as it is known. ``flow`` is the one whose levels the files are; without it they are to become one."""
    ordered = [shown, *(file for file in files if file != shown)] if shown else list(files)
    try:
        samples, contents = read_samples(folder, ordered[:MOST_SAMPLES], reader, processes, job.cancelled)
        known = {sample.file: sample for sample in before.samples}
        samples = tuple(known[new.file] if known.get(new.file) == new else new for new in samples)
        level, things = _drawn(flow or Flow(), reader, contents.get(shown, FileContents()))
        first = TriedReader(samples, contents, flow or _would_be(files, before.flow), level, things)
        _work_out(first)
        job.report(first)
        rest = _read_all(folder, reader, ordered[MOST_SAMPLES:], processes, job.cancelled, job.report)
    except ReadingCancelled:
        raise Cancelled from None
    return _work_out(replace(first, contents={**contents, **rest}))


def _work_out(found: TriedReader) -> TriedReader:
    """The same, with what the window asks for at once worked out beside it."""
    _ = found.counts, found.destinations
    return found


def _read_all(
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


def _would_be(files: Sequence[str], before: Flow) -> Flow:
    """The flow that a folder's files would make, without what is in them."""
    if sorted(files) == sorted(level.file for level in before.levels):
        return before
    return with_files(Flow(), files, naming_pattern(files), linked=False)


def _drawn(flow: Flow, reader: Reader, contents: FileContents) -> tuple[Level, tuple[FileThing, ...]]:
    """A level as a file has it, in the units of a flow, and what of the file is in it."""
    kinds = Counter[str]()
    things = []
    for thing in contents.things:
        kinds[thing.kind] += 1
        if kinds[thing.kind] <= MOST_DRAWN:
            things.append(thing)
    alone = Flow(units=flow.units, readers=(replace(reader, files="*"),), levels=(Level(id="sample", file="sample"),))
    level = take_over(alone, {"sample": FileContents(tuple(things))}, "all").levels[0]
    has_size = level.plan is not None and level.plan.width > 0 and level.plan.height > 0
    return level if has_size else _with_room(level), tuple(things)


def _with_room(level: Level) -> Level:
    """The level with a plan that has room for what is in it, while no rule reads its size."""
    solids = level.plan.solids if level.plan else ()
    areas = [*solids, *(exit_.area for exit_ in level.exits)]
    points = [(spawn.x, spawn.y) for spawn in level.spawns] + [(deed.x, deed.y) for deed in level.deeds]
    right = [area[0] + area[2] for area in areas] + [x for x, _ in points]
    low = [area[1] + area[3] for area in areas] + [y for _, y in points]
    plan = Plan(width=max([1.0, *right]) * 1.02, height=max([1.0, *low]) * 1.02, solids=tuple(solids))
    return replace(level, plan=plan)
