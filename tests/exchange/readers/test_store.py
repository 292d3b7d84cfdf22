"""Level files read by processes: once only, never outside the folder, and given up when a rule never ends."""

import json
import os
import tempfile
import time
import unittest
from importlib.resources import files
from pathlib import Path
from unittest import mock

from mossy_bridge.exchange.readers.new_flow import flow_from_level_files, readers_from_file
from mossy_bridge.exchange.readers.processes import ReadingCancelled, ReadingProcesses
from mossy_bridge.exchange.readers.store import LevelFileStore
from mossy_bridge.exchange.reading import CannotRead, flow_from_tree
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.game_files import ENDINGS, FORMS, random_levels, reader, reader_tree, written

DEMO = Path(str(files("mossy_bridge.demo")))


def store_of(case, folder):
    store = LevelFileStore(folder)
    case.addCleanup(store.close)
    return store


class FolderCase(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "game"
        (self.folder / "levels").mkdir(parents=True)
        kept = mock.patch.dict(os.environ, {"XDG_CACHE_HOME": str(Path(folder.name) / "cache")})
        kept.start()
        self.addCleanup(kept.stop)

    def game(self, form="xml", count=3, **more):
        """A flow whose levels name files that are there."""
        levels = random_levels(7, count)
        names = {name: f"levels/{name}.{ENDINGS[form]}" for name in levels}
        for name, level in levels.items():
            (self.folder / names[name]).write_bytes(written(form, level))
        tree = [{"id": name, "file": file} for name, file in names.items()]
        return flow_from_tree({"mossy_bridge": 1, "levels": tree, "readers": [reader_tree(form, **more)]})

    def store(self):
        return store_of(self, self.folder)


class Store(FolderCase):
    def test_a_file_is_read_again_only_when_it_changed(self):
        flow, store = self.game(), self.store()
        first = store.read(flow)
        self.assertEqual(list(first), [level.file for level in flow.levels])
        self.assertIs(store.read(flow), first)
        changed = self.folder / flow.levels[1].file
        changed.write_bytes(b"<map/>")
        second = store.read(flow)
        self.assertEqual(second[flow.levels[1].file].of("exit"), ())
        self.assertIs(second[flow.levels[0].file], first[flow.levels[0].file])
        store.close()
        other = self.store()  # as after a new start of the program
        with mock.patch.object(ReadingProcesses, "read", side_effect=AssertionError("read again")):
            self.assertEqual(other.read(flow), second)

    def test_other_rules_read_it_anew_but_other_words_do_not(self):
        flow, store = self.game(), self.store()
        first = store.read(flow)
        words = flow_from_tree({"mossy_bridge": 1, "readers": [reader_tree("xml", words={"x": "next"})]}).readers
        self.assertIs(store.read_files(words, [flow.levels[0].file])[flow.levels[0].file], first[flow.levels[0].file])
        scaled = store.read_files((reader("xml", scale=2.0),), [flow.levels[0].file])
        self.assertNotEqual(scaled[flow.levels[0].file], first[flow.levels[0].file])

    def test_what_is_kept_may_be_damaged(self):
        flow = self.game()
        store = self.store()
        first = store.read(flow)
        store.close()
        kept = list(Path(os.environ["XDG_CACHE_HOME"]).rglob("*.kept"))
        self.assertEqual(len(kept), 1)
        kept[0].write_bytes(b"\x93nonsense")
        self.assertEqual(self.store().read(flow), first)

    def test_nothing_outside_the_folder_is_opened(self):
        flow = self.game()
        outside = self.folder.parent / "secret.xml"
        outside.write_bytes(b"<map/>")
        (self.folder / flow.levels[0].file).unlink()
        (self.folder / flow.levels[0].file).symlink_to(outside)
        (self.folder / flow.levels[1].file).unlink()
        found = self.store().read(flow)
        self.assertIn("does not lie below the folder", found[flow.levels[0].file].faults[0].message)
        self.assertNotIn(flow.levels[1].file, found)  # that is file-missing

    def test_files_that_are_no_level_files(self):
        flow = self.game()
        paths = [self.folder / level.file for level in flow.levels]
        for path in paths:
            path.unlink()
        os.mkfifo(paths[0])
        paths[1].mkdir()
        with paths[2].open("wb") as file:
            file.truncate(65 * 1024 * 1024)
        found = self.store().read(flow)
        said = [found[level.file].faults[0].message for level in flow.levels]
        self.assertEqual(said[0], "is no ordinary file")
        self.assertIn("directory", said[1])
        self.assertIn("larger than 64 MB", said[2])

    def test_a_rule_that_never_ends_is_given_up_and_the_others_are_not(self):
        flow = self.game(count=2)
        (self.folder / flow.levels[0].file).write_bytes(b"<map>" + b"<a/>" * 4_000 + b"<thing kind='gate'/></map>")
        slow = {"makes": "spawn", "each": "//a[count(//a[count(//a) > 1][count(//a) > 2]) > 3]", "take": {}}
        tree = reader_tree("xml")
        tree["rules"].insert(1, slow)
        readers = flow_from_tree({"mossy_bridge": 1, "readers": [tree]}).readers
        began = time.monotonic()
        found = self.store().read_files(readers, [level.file for level in flow.levels])
        self.assertLess(time.monotonic() - began, 30)
        contents = found[flow.levels[0].file]
        self.assertEqual(
            [(fault.rule, "takes over 2 seconds" in fault.message) for fault in contents.faults], [(1, True)]
        )
        self.assertEqual(len(contents.of("exit")), 1)
        self.assertEqual(found[flow.levels[1].file].faults, ())

    def test_reading_can_be_cancelled(self):
        flow = self.game(count=3)
        asked = []

        def cancelled():
            asked.append(1)
            return True

        store = self.store()
        with self.assertRaises(ReadingCancelled):
            store.read(flow, cancelled)
        self.assertEqual(len(asked), 1)
        self.assertEqual(len(store.read(flow)), 3)

    def test_progress(self):
        told = []
        self.store().read(self.game(), progress=lambda done, of: told.append((done, of)))
        self.assertEqual(told, [(0, 3), (1, 3), (2, 3), (3, 3)])


class NewFlow(FolderCase):
    def test_a_game_of_sixty_files_in_each_form_from_folder_to_proof(self):
        for form in FORMS:
            with self.subTest(form):
                names = [f"levels/{number}.{ENDINGS[form]}" for number in range(1, 61)]
                for number, name in enumerate(names, 1):
                    (self.folder / name).write_bytes(written(form, _hall(number, 60)))
                readers = (reader(form, words={"end": "end:lit"}),)
                flow, contents = flow_from_level_files("Halls", self.folder, names, readers)
                self.assertEqual(len(contents), 60)
                survey = survey_flow(flow)
                self.assertTrue(survey.settled)
                self.assertEqual({verdict.answer for verdict in survey.levels.values()}, {"yes"})
                self.assertEqual((survey.endings["lit"].answer, survey.stuck.answer), ("yes", "no"))

    def test_readers_from_a_file(self):
        path = self.folder / "reader.json"
        path.write_text(json.dumps(reader_tree("json")))
        self.assertEqual([one.id for one in readers_from_file(path)], ["maps"])
        path.write_text(json.dumps([reader_tree("json"), {**reader_tree("xml"), "id": "others"}]))
        self.assertEqual([one.id for one in readers_from_file(path)], ["maps", "others"])
        for text, says in (("[]", "holds no reader"), ('{"id": "a"}', "files: is missing"), ("{", "is not valid JSON")):
            path.write_text(text)
            with self.assertRaises(CannotRead) as caught:
                readers_from_file(path)
            self.assertIn(says, str(caught.exception))


def _hall(number, of):
    """A level with a way on and a way back."""
    on = "end" if number == of else str(number + 1)
    door = {"kind": "exit", "y": 12, "width": 2, "height": 4}
    things = [{**door, "id": "on", "x": 61, "level": on},
              {"kind": "spawn", "id": "start", "x": 5, "y": 14, "width": 1, "height": 2},
              {"kind": "solid", "x": 0, "y": 16, "width": 64, "height": 2}]  # fmt: skip
    if number > 1:
        things.append({**door, "id": "return", "x": 0, "level": str(number - 1)})
    return {"width": 64, "height": 18, "things": things}


if __name__ == "__main__":
    unittest.main()
