"""The face Level files: which files there are, how they are read, and in what they differ from the flow."""

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtCore import pyqtSignal

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.faces.lists import Deed, ListFace
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.level_file_watcher import LevelFileWatch
from mossy_bridge.desk.session.reader_commands import ReaderCommands
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.workers.level_file_reading import LevelFileReading
from mossy_bridge.exchange.folders import FileNews
from mossy_bridge.level_files.contents import FileContents, fits
from mossy_bridge.level_files.differences import Comparison, Difference
from mossy_bridge.level_files.taking import can_be_taken
from mossy_bridge.level_files.wording import told
from mossy_bridge.model.flow import Flow, Level, Reader

MOST_LIKELY = 3
"""So many new files are offered as what one that is gone may be called now."""
MOST_LEVELS, MOST_LINES = 40, 12
"""So many levels that differ are listed, each with so many differences."""


class FilesFace(ListFace):
    """Compares the level files with the flow. ``look_again`` looks at the disk, ``commands`` ask for readers,
    ``step_wanted(action)`` for an action of the menus."""

    step_wanted = pyqtSignal(str)

    title, tip = "Level files", "The files of the levels, what is in them, and in what they differ from the flow"
    follows_survey = True

    def __init__(
        self,
        requests: Requests,
        selection: Selection,
        watch: LevelFileWatch,
        reading: LevelFileReading,
        look_again: Callable[[], object],
        commands: ReaderCommands,
    ):
        super().__init__(
            "Level files",
            "The files that hold the levels. A reader tells exits, spawn points, deeds and solids apart in them; what "
            "differs from the flow is listed here. No file is ever written.",
        )
        self._requests, self._selection, self._watch, self._reading = requests, selection, watch, reading
        self._look_again, self._commands = look_again, commands
        self._shown: tuple[Flow, Appraisal | None] = (Flow(), None)
        reading.progressed.connect(self._on_progress)

    def show_flow(self, flow: Flow, result: Appraisal | None = None) -> None:
        """Shows what is different on disk."""
        self._shown = flow, result
        folder, news = self._watch.folder, self._watch.news
        self._begin()
        named = [level for level in flow.levels if level.file]
        if folder is None:
            self._line("Save the flow first: level files are looked for below its folder.",
                       [("Save the flow…", lambda: self.step_wanted.emit("save"))])  # fmt: skip
            self._end("")
            return
        count = f"{len(named)} of {len(flow.levels)} levels name a file below the folder {folder.name}"
        self._line(count, [("Look again", self._look_again)])
        self._say_readers(flow)
        if result is not None and result.flow is flow:
            self._say_differences(result)
        self._say_news(flow, news)
        self._end("" if named else "No level names a file yet: choose one on the bench, or make a flow of a folder.")

    def _on_progress(self, _done: int, _of: int) -> None:
        if self.isVisible():
            self.show_flow(*self._shown)

    # -- readers ---------------------------------------------------------------------------------------

    def _say_readers(self, flow: Flow) -> None:
        self._heading("Readers")
        if self._reading.progress:
            done, of = self._reading.progress
            self._line(f"Reading {done:,} of {of:,} files…", [("Stop", self._reading.cancel)])
        for reader in flow.readers:
            self._say_reader(flow, reader)
        self._line("" if flow.readers else "None yet: nothing is known of what is in the files.",
                   [("Make a reader by pointing…", self._commands.make),
                    ("Add a reader from a file…", self._commands.add_from_file)])  # fmt: skip

    def _say_reader(self, flow: Flow, reader: Reader) -> None:
        requests, files = self._requests.level_files, self._reading.files
        fitting = [level.file for level in flow.levels if fits(reader, level.file)]
        read = [files[name] for name in fitting if name in files]
        things = sum(1 for contents in read for thing in contents.things if thing.reader == reader.id)
        follows = reader.follow == "places"
        told = f"{reader.name or reader.id}: {reader.files}, {len(reader.rules)} rules; {len(fitting)} files, "
        told += f"{things:,} things found" if read or not fitting else "not read yet"
        told += "; when one changes,"
        other = "nothing" if follows else "places"
        links: list[Deed] = [
            ("places follow" if follows else "it is told",
             partial(requests.set_reader, f"follow {other}", reader.id, follow=other)),
            ("Change it…", partial(self._commands.make, reader.id)),
            ("Remove it", partial(requests.remove_reader, reader.id)),
        ]  # fmt: skip
        self._line(told, links)

    # -- differences -----------------------------------------------------------------------------------

    def _say_differences(self, result: Appraisal) -> None:
        drawn, flow = result.level_files, result.survey.flow
        if not drawn.files:
            return
        readers = {reader.id: reader for reader in flow.readers}
        faults = [(level, drawn.files[level.file]) for level in flow.levels if level.file in drawn.files]
        faults = [(level, contents) for level, contents in faults if contents.faults]
        if faults:
            self._heading("Cannot be read")
        for level, contents in faults[:MOST_LEVELS]:
            self._say_faults(level, contents, readers)
        by_level: dict[str, list[Difference]] = {}
        for one in drawn.differences:
            by_level.setdefault(one.level, []).append(one)
        self._heading("What differs" if by_level else "Nothing differs")
        self._say_summary(drawn, len(by_level))
        for level in [one for one in flow.levels if one.id in by_level][:MOST_LEVELS]:
            self._say_level(flow, level, by_level[level.id])
        if len(by_level) > MOST_LEVELS:
            self._line(f"… and {len(by_level) - MOST_LEVELS:,} more levels")

    def _say_faults(self, level: Level, contents: FileContents, readers: dict[str, Reader]) -> None:
        show = ("Show", partial(self._selection.select, level.id))
        for fault in contents.faults[:MOST_LINES]:
            self._line(f"{level.file}: {fault.told(readers)}", [show])

    def _say_summary(self, drawn: Comparison, levels: int) -> None:
        if not levels:
            self._line(f"All {len(drawn.files):,} files that were read say what the flow says.")
            return
        requests = self._requests.level_files
        places = sum(1 for one in drawn.differences if one.kind == "place")
        able = sum(map(can_be_taken, drawn.differences))
        links: list[Deed] = []
        if places:
            links.append((f"Take over all {places:,} places", partial(requests.take_all, drawn.files, "places")))
        if able > places:
            links.append((f"Take over all {able:,}", partial(requests.take_all, drawn.files, "all")))
        self._line(f"{len(drawn.differences):,} things in {levels:,} of {len(drawn.files):,} files.", links)

    def _say_level(self, flow: Flow, level: Level, found: Sequence[Difference]) -> None:
        requests, drawn = self._requests.level_files, self._shown[1]
        links: list[Deed] = [("Show", partial(self._selection.select, level.id))]
        if drawn and sum(map(can_be_taken, found)) > 1:
            links.insert(0, ("Take over all of it",
                             partial(requests.take_all, drawn.level_files.files, "all", level.id)))  # fmt: skip
        self._line(f"{level.title}, {level.file}", links, bold=True)
        for one in found[:MOST_LINES]:
            take: list[Deed] = [("Take it over", partial(requests.take, one, level.file))] if can_be_taken(one) else []
            self._line(f"     {told(flow, one)}", take)
        if len(found) > MOST_LINES:
            self._line(f"     … and {len(found) - MOST_LINES:,} more")

    # -- which files there are -------------------------------------------------------------------------

    def _say_news(self, flow: Flow, news: FileNews) -> None:
        requests = self._requests.level_files
        if news.renamed:
            self._heading("Renamed, it seems")
            self._line("", [(f"Follow all {len(news.renamed)}", partial(requests.follow_renamed, news.renamed))])
            for old, new in news.renamed:
                self._line(f"{old} is now {new}", [("Follow", partial(requests.follow_renamed, [(old, new)]))])
        if news.gone:
            self._heading("Gone")
            for file in news.gone:
                self._say_gone(flow, file, news)
        if news.added:
            self._heading("New")
            self._line("", [(f"Make levels of all {len(news.added)}", partial(requests.add_files, news.added))])
            for file in news.added:
                self._line(file, [("Make a level of it", partial(requests.add_files, [file]))])
        if not news:
            self._line("On disk every file is as the flow names it." if any(lv.file for lv in flow.levels) else "")

    def _say_gone(self, flow: Flow, file: str, news: FileNews) -> None:
        requests = self._requests.level_files
        level = next((one for one in flow.levels if one.file == file), None)
        title = level.title if level else file
        links: list[Deed] = [
            (f"It is now {new}", partial(requests.follow_renamed, [(file, new)])) for new in news.added[:MOST_LIKELY]
        ]
        links += [("Forget the file", partial(requests.forget_file, file)),
                  (f"Show {title}", partial(self._selection.select, level.id if level else ""))]  # fmt: skip
        self._line(f"{file}, of {title}", links)
