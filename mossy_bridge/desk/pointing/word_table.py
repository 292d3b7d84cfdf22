"""The texts by which exits of level files say where they lead, and what each means."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHeaderView, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from mossy_bridge.desk.pointing.draft import ReaderDraft
from mossy_bridge.desk.widgets.drop_down import DropDown
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.level_files.contents import FileThing
from mossy_bridge.level_files.destinations import BY_THEMSELVES, END, FileDestinations
from mossy_bridge.model.flow import Level
from mossy_bridge.model.ids import id_from

TEXT, TIMES, MEANS = range(3)
MOST_ROWS = 300
BY_THEMSELVES_WORDS = {
    "next": "the next level", "previous": "the level before", "again": "the same level, begun again",
    "back": "back where one came from", "resume": "where the player last was",
}  # fmt: skip
HELP = "These texts say where exits lead. What is no level’s name, file, code or id can be given a meaning here."
NONE_YET = "No exits have been found yet, or it is not taken from them where they lead."


class WordTable(QWidget):
    """Shows what each text means, those that mean nothing first, and gives them a meaning."""

    def __init__(self, draft: ReaderDraft):
        super().__init__()
        self._draft = draft
        self._shown: object = None
        self.table = QTableWidget(0, 3)
        self.table.setHorizontalHeaderLabels(["The file says", "Exits", "It means"])
        self.table.setAccessibleName("What destinations mean")
        given(self.table.verticalHeader()).hide()
        header = given(self.table.horizontalHeader())
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        header.setSectionResizeMode(TEXT, QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(TIMES, QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(MEANS, QHeaderView.ResizeMode.Stretch)
        self.help = Label(HELP)
        self.help.setWordWrap(True)
        self.help.setProperty("dim", True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 8, 0, 0)
        layout.addWidget(self.help)
        layout.addWidget(self.table, 1)

    def show_draft(self) -> int:
        """Shows the texts found and those that have a meaning already; how many mean nothing."""
        counts, words = self._draft.destinations(), self._draft.reader.words
        texts = list(dict.fromkeys([*counts, *words]))
        means = {text: self._plain_meaning(text) for text in texts}
        lost = [text for text in texts if text not in words and not means[text]]
        shown = (tuple(counts.items()), tuple(words.items()))
        self.help.setText(HELP if texts else NONE_YET)
        self.table.setVisible(bool(texts))
        if shown == self._shown:
            return len(lost)
        self._shown = shown
        order = [*lost, *words, *(text for text in texts if text not in words and text not in lost)][:MOST_ROWS]
        self.table.setRowCount(len(order))
        for row, text in enumerate(order):
            for column, told in ((TEXT, text or "(nothing)"), (TIMES, f"{counts[text]:,}")):
                item = QTableWidgetItem(told)
                item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
                self.table.setItem(row, column, item)
            self.table.setCellWidget(row, MEANS, self._box(text, means[text]))
        return len(lost)

    def _plain_meaning(self, text: str) -> str:
        """The level that a text means by itself; "" where it means none."""
        thing = FileThing("exit", "", 0, {"level": text})
        flow = self._draft.flow
        led = FileDestinations(flow).of(thing, Level(id="", file=self._draft.file), {})
        level = flow.level(led.to.level) if led and led.to else None
        return level.title if level else ""

    def _box(self, text: str, plain_meaning: str) -> DropDown:
        box = DropDown()
        box.setAccessibleName(f"What “{text}” means")
        box.setMinimumContentsLength(10)
        box.setSizeAdjustPolicy(DropDown.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        for value, words in self._meanings(text, plain_meaning):
            box.addItem(words, value)
        box.setCurrentIndex(max(box.findData(self._draft.reader.words.get(text, "")), 0))
        box.activated.connect(lambda _: self._draft.set_word(text, box.currentData()))
        return box

    def _meanings(self, text: str, plain_meaning: str) -> list[tuple[str, str]]:
        flow = self._draft.flow
        found = [("", f"{plain_meaning}, by its name" if plain_meaning else "nothing yet")]
        found += [(kind, BY_THEMSELVES_WORDS[kind]) for kind in BY_THEMSELVES]
        found += [(f"{END}{ending.id}", f"the ending {ending.name or ending.id}") for ending in flow.endings]
        made = f"{END}{id_from(text or 'the end', (), 'ending')}"
        now = self._draft.reader.words.get(text, "")
        for value in dict.fromkeys([made, *([now] if now.startswith(END) else [])]):
            if value not in dict(found):
                found.append((value, f"an ending of its own, {value.removeprefix(END)}"))
        found += [(level.id, f"{level.code}  {level.title}".strip()) for level in flow.levels]
        if now and now not in dict(found):
            found.append((now, now))
        return found
