"""Reads some files to point at, by the processes that read all."""

from collections.abc import Callable, Sequence
from pathlib import Path

from mossy_bridge.exchange.below import file_below
from mossy_bridge.exchange.readers.processes import ReadingProcesses
from mossy_bridge.exchange.readers.samples import form_of
from mossy_bridge.exchange.readers.store import OUTSIDE
from mossy_bridge.exchange.readers.worker import ReadingJob, Word, bytes_of
from mossy_bridge.level_files.contents import FileContents
from mossy_bridge.level_files.pointing.sample import Sample
from mossy_bridge.model.flow import FileForm, Reader


def read_samples(
    folder: Path,
    names: Sequence[str],
    reader: Reader,
    processes: ReadingProcesses,
    cancelled: Callable[[], bool] = lambda: False,
) -> tuple[tuple[Sample, ...], dict[str, FileContents]]:
    """Files below a folder to point at, and what a reader finds in each, numbered as in its sample. One that is damaged
    has no sample. Raises :class:`~mossy_bridge.exchange.readers.processes.ReadingCancelled`."""
    paths = {name: path for name in names if (path := file_below(folder, name))}
    outside = {name: OUTSIDE for name in names if name not in paths}
    jobs = [ReadingJob(at, str(path), (reader,), sample=name) for at, (name, path) in enumerate(paths.items())]
    words: dict[int, Word] = {}
    processes.read(jobs, lambda word: words.__setitem__(word.number, word), cancelled)
    found = {name: words[at] for at, name in enumerate(paths)}
    samples = tuple(word.sample for word in found.values() if word.sample is not None)
    return samples, outside | {name: word.contents for name, word in found.items() if word.contents is not None}


def likely_form(folder: Path, name: str) -> FileForm:
    """The form of a file below a folder; "text" where it cannot be read."""
    path = file_below(folder, name)
    data = bytes_of(path) if path else b""
    return form_of(data[:4096]) if isinstance(data, bytes) else "text"
