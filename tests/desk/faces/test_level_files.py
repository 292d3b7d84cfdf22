"""The face Level files: drift told and taken over, live while files change, and whatever bad files may do."""

import json
import os
from unittest import mock

from msgspec.structs import replace

from mossy_bridge.desk.session import level_file_watcher
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.exchange.below import FilesBelow
from mossy_bridge.exchange.readers.rules import contents_of
from mossy_bridge.exchange.reading import flow_from_tree
from mossy_bridge.exchange.saving import save_flow
from mossy_bridge.level_files.taking import take_over
from mossy_bridge.model.edits import levels as edits
from tests.support.game_files import reader_tree, written
from tests.support.qt import DeskCase

DOOR = {"kind": "exit", "id": "on", "x": 60, "y": 12, "width": 2, "height": 4}
LANDING = {"kind": "spawn", "id": "start", "x": 4, "y": 14, "width": 1, "height": 2}


def hall(level, x=60, *more):
    return {"width": 64, "height": 18, "things": [{**DOOR, "level": level, "x": x}, LANDING, *more]}


class LevelFiles(DeskCase):
    def setUp(self):
        super().setUp()
        kept = mock.patch.dict(os.environ, {"XDG_CACHE_HOME": str(self.folder / "cache")})
        kept.start()
        self.addCleanup(kept.stop)
        (self.folder / "levels").mkdir()

    def write(self, name, level):
        path = self.folder / f"levels/{name}.xml"
        beside = path.with_suffix(".new")
        beside.write_bytes(written("xml", level))
        beside.replace(path)  # as most editors save

    def open_game(self, **more):
        """Two halls as their files have them, opened from a file."""
        for name, level in (("a", hall("b")), ("b", hall("end"))):
            self.write(name, level)
        reader = reader_tree("xml", words={"end": "end:lit"}, **more)
        levels = [{"id": name, "name": f"Hall {name.upper()}", "file": f"levels/{name}.xml"} for name in "ab"]
        flow = flow_from_tree({"mossy_bridge": 1, "start": {"level": "a"}, "endings": [{"id": "lit"}],
                               "readers": [reader], "levels": levels})  # fmt: skip
        files = {
            level.file: contents_of((self.folder / level.file).read_bytes(), flow.readers) for level in flow.levels
        }
        save_flow(take_over(flow, files, "all"), self.folder / "game.mossy")
        self.window.files.open(self.folder / "game.mossy")
        self.window.faces.turn_to(self.window.level_files)
        self.read()

    def read(self):
        window = self.window
        self.wait_until(
            lambda: not window.reading.busy and not window.surveyor.busy and window.result is not None, "the files"
        )
        self.settle()

    def found(self):
        return {(one.check, one.at) for one in self.window.result.findings if one.check.startswith("file-")}

    def texts(self):
        self.settle()
        return [label.text() for label in self.window.level_files.findChildren(Label) if label.isVisible()]

    def press(self, words, number=0):
        self.settle()
        links = [one for one in self.window.level_files.findChildren(Link) if one.words == words and one.isVisible()]
        links[number].click()
        self.read()

    def test_a_sound_game_says_so(self):
        self.open_game()
        self.assertEqual(self.found(), set())
        self.assertIn("All 2 levels reached", self.window.verdict.sentence)
        self.assertIn("All 2 files that were read say what the flow says.", self.texts())
        self.assertIn("Marsh maps: levels/*.xml, 5 rules; 2 files, 6 things found; when one changes,", self.texts())

    def test_what_changes_in_a_file_is_told_at_once_taken_over_and_undone(self):
        self.open_game()
        before = self.window.document.flow
        door = {**DOOR, "id": "Cellar Door", "x": 20, "level": "a"}
        self.write("a", hall("end", 50, door))
        wanted = {("file-place-differs", ("a.on",)), ("file-leads-elsewhere", ("a.on",)),
                  ("file-has-more", ("a", "Cellar Door"))}  # fmt: skip
        self.wait_until(lambda: wanted <= self.found(), "what differs")
        self.assertIn("     Hall A: On leads to Hall B, but in levels/a.xml to the ending lit.", self.texts())
        self.press("Take it over", 1)
        self.agree()  # for nothing would lead to the other hall any more
        self.read()
        self.assertEqual(self.window.document.flow.level("a").exits[0].to.ending, "lit")
        self.press("Take over all 2")
        flow = self.window.document.flow
        self.assertEqual([(one.id, one.area[0]) for one in flow.level("a").exits], [("on", 50), ("cellar_door", 20)])
        self.assertEqual(self.found(), set())
        self.assertEqual(self.window.document.undo_name, "take over from the level files")
        self.window.document.undo()
        self.window.document.undo()
        self.assertEqual(self.window.document.flow, before)
        self.read()
        self.assertEqual(self.found(), wanted)

    def test_an_edit_that_names_no_other_file_asks_nothing_of_the_disk(self):
        self.open_game()
        door, watcher = self.window.requests.door, self.window.watch._watcher
        asked = AssertionError("the disk is asked")
        with (
            mock.patch.object(FilesBelow, "path", side_effect=asked),
            mock.patch.object(level_file_watcher, "file_below", side_effect=asked),
        ):
            door.edit("name it", lambda flow: edits.set_level(flow, "a", name="Great Hall"))
        self.assertEqual(len(watcher.files()), 2)
        door.edit("leave it", lambda flow: edits.set_level(flow, "a", file=""), shown=True)
        self.assertEqual([os.path.basename(path) for path in watcher.files()], ["b.xml"])
        door.edit("no readers", lambda flow: replace(flow, readers=()), shown=True)
        self.assertEqual(watcher.files(), [])

    def test_places_are_followed_where_the_reader_says_so(self):
        self.open_game(follow="places")
        self.write("a", hall("end", 50))
        self.wait_until(lambda: self.window.document.undo_name == "follow levels/a.xml", "the place")
        self.read()
        exit_ = self.window.document.flow.level("a").exits[0]
        self.assertEqual((exit_.area[0], exit_.to.level), (50, "b"))
        self.assertEqual(self.found(), {("file-leads-elsewhere", ("a.on",))})
        self.press("places follow")
        self.assertEqual(self.window.document.flow.readers[0].follow, "nothing")

    def test_what_files_said_when_the_flow_was_opened_is_not_new(self):
        self.open_game()
        self.write("a", hall("b", 50))
        self.wait_until(lambda: ("file-place-differs", ("a.on",)) in self.found(), "what differs")
        column = self.window.survey_column
        self.assertIn("1 new", column._told.text())
        self.window.files.open(self.folder / "game.mossy")
        self.read()
        self.wait_until(lambda: ("file-place-differs", ("a.on",)) in self.found(), "what differs")
        self.assertFalse(column._told.isVisible(), column._told.text())

    def test_repairs_of_the_survey_column(self):
        self.open_game()
        self.write("a", hall("b", 50))
        self.wait_until(lambda: ("file-place-differs", ("a.on",)) in self.found(), "what differs")
        finding = next(one for one in self.window.result.findings if one.check == "file-place-differs")
        self.window.finding_actions.repair(finding)
        self.wait_until(lambda: not self.window.finding_actions.trial._task.busy, "the trial")
        self.agree()
        self.read()
        self.assertEqual(self.window.document.flow.level("a").exits[0].area[0], 50)
        self.assertEqual(self.found(), set())

    def test_damaged_files_are_told_and_nothing_is_lost(self):
        self.open_game()
        before, disk = self.window.document.flow, {}
        for name, data in (("a", b"<map><thing"), ("b", b"\0\1\2" * 50)):
            (self.folder / f"levels/{name}.xml").write_bytes(data)
            disk[name] = data
        self.wait_until(lambda: len(self.found()) == 2, "what is damaged")
        self.assertEqual({check for check, _ in self.found()}, {"file-unreadable"})
        self.assertIn("Cannot be read", self.texts())
        self.assertIs(self.window.document.flow, before)
        self.assertEqual({n: (self.folder / f"levels/{n}.xml").read_bytes() for n in "ab"}, disk)
        self.write("a", hall("b"))
        self.wait_until(lambda: len(self.found()) == 1, "one mended")

    def test_readers_are_added_from_files_and_removed(self):
        self.open_game()
        self.press("Remove it")
        self.assertEqual(self.window.document.flow.readers, ())
        self.assertIn("None yet: nothing is known of what is in the files.", self.texts())
        path = self.folder / "reader.json"
        self.person.answers["reader"] = path
        path.write_text("{")
        self.press("Add a reader from a file…")
        self.assertIn("No reader in there", self.person.told[-1])
        path.write_text(json.dumps(reader_tree("xml", words={"end": "end:lit"})))
        self.press("Add a reader from a file…")
        self.assertEqual([one.id for one in self.window.document.flow.readers], ["maps"])
        self.assertEqual(self.found(), set())
        self.press("Add a reader from a file…")
        self.assertEqual([one.id for one in self.window.document.flow.readers], ["maps", "maps_2"])

    def test_a_saved_demo_has_its_level_files_beside_it(self):
        self.open_demo()
        self.read()
        self.assertEqual(len(self.window.reading.files), 17)
        mine = self.folder / "tidewick" / "shore" / "slipway.xml"
        mine.parent.mkdir(parents=True)
        mine.write_text('<marsh wide="1024" high="320"/>')
        self.person.answers["save"] = self.folder / "mine.mossy"
        self.assertTrue(self.window.files.save())
        self.read()
        self.assertEqual(self.window.watch.folder, self.folder)
        self.assertEqual(mine.read_text(), '<marsh wide="1024" high="320"/>')  # what is there is never written over
        self.wait_until(lambda: "file-lacks" in {check for check, _ in self.found()}, "what it lacks")
        self.assertEqual({at[0].partition(".")[0] for _, at in self.found()}, {"slipway"})

    def test_reading_is_stopped(self):
        self.open_game()
        self.window.reading.look_at(self.window.document.flow, self.folder, again=True)
        self.window.reading.cancel()
        self.read()
        self.assertIsNone(self.window.reading.progress)
        self.assertEqual(len(self.window.reading.files), 2)
