"""The texts by which exits of level files say where they lead, and what each means."""

from collections.abc import Iterator

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from mossy_bridge.desk.pointing.draft import ReaderDraft
from mossy_bridge.desk.sentences.popups import Choice, Picker
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.level_files.contents import FileThing
from mossy_bridge.level_files.destinations import BY_THEMSELVES, END, FileDestinations
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.ids import id_from

TEXT, TIMES, MEANS = range(3)
MOST_ROWS = 500
BY_ITSELF = "as it stands"
"""The choice of no meaning; no id can look like it."""
BY_THEMSELVES_WORDS = {
    "next": "the next level",
    "previous": "the level before",
    "again": "the same level, begun again",
    "back": "back where one came from",
    "resume": "where the player last was",
}
HELP = "These texts say where exits lead. What is no level’s name, file, code or id can be given a meaning here."
NONE_YET = "No exits have been found yet, or it is not taken from them where they lead."


class WordTable(QWidget):
    """Shows what each text means, those that mean nothing first, and gives them a meaning: by a click, or by Enter or
    Space on its row."""

    def __init__(self, draft: ReaderDraft):
        super().__init__()
        self._draft = draft
        self._shown: object = None
        self._lost = 0
        self._known = Flow(), FileDestinations(Flow())
        self.texts: list[str] = []
        """The text of each row."""
        self.table = QTableWidget(0, 3)
        self.table.setHorizontalHeaderLabels(["The file says", "Exits", "It means"])
        self.table.setAccessibleName("What destinations mean")
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
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
        self.table.cellClicked.connect(lambda row, _: self._ask(row))
        self.table.activated.connect(lambda index: self._ask(index.row()))

    def show_draft(self) -> int:
        """Shows the texts found and those that have a meaning already; how many mean nothing."""
        counts, words, flow = self._draft.found.destinations, self._draft.reader.words, self._draft.found.flow
        shown = (tuple(counts.items()), tuple(words.items()), id(flow))
        if shown == self._shown:
            return self._lost
        self._shown = shown
        texts = list(dict.fromkeys([*counts, *words]))
        plainly = {text: self._plain_meaning(text) for text in texts}
        lost = [text for text in texts if text not in words and not plainly[text]]
        self._lost = len(lost)
        self.texts = [*lost, *words, *(text for text in texts if text not in words and plainly[text])]
        self.help.setText(HELP if texts else NONE_YET)
        self.table.setVisible(bool(texts))
        self.table.setRowCount(min(len(self.texts), MOST_ROWS))
        if len(self.texts) > MOST_ROWS:
            self.help.setText(f"{HELP} The first {MOST_ROWS} of {len(self.texts):,} are shown.")
        for row, text in enumerate(self.texts[:MOST_ROWS]):
            meaning = self._meaning(text, plainly[text])
            for column, told in ((TEXT, text or "(nothing)"), (TIMES, f"{counts[text]:,}"), (MEANS, meaning)):
                item = QTableWidgetItem(told)
                if column == MEANS and text in lost:
                    item.setForeground(self.palette().placeholderText())
                self.table.setItem(row, column, item)
        return self._lost

    def _meaning(self, text: str, plain_meaning: str) -> str:
        """What a text means, in words."""
        word = self._draft.reader.words.get(text)
        if word is None:
            return f"{plain_meaning}, by its name" if plain_meaning else "nothing yet: say what"
        return next((choice.text for choice in self._choices(text) if choice.id == word), word)

    def _choices(self, text: str) -> Iterator[Choice]:
        """All that a text can mean."""
        flow = self._draft.found.flow
        plain_meaning = self._plain_meaning(text)
        yield Choice(BY_ITSELF, f"{plain_meaning}, by its name" if plain_meaning else "nothing")
        for kind in BY_THEMSELVES:
            yield Choice(kind, BY_THEMSELVES_WORDS[kind])
        known = {f"{END}{ending.id}" for ending in flow.endings}
        for ending in flow.endings:
            yield Choice(f"{END}{ending.id}", f"the ending {ending.name or ending.id}")
        made = f"{END}{id_from(text or 'the end', (), 'ending')}"
        now = self._draft.reader.words.get(text, "")
        for value in dict.fromkeys([made, *([now] if now.startswith(END) else [])]):
            if value not in known:
                yield Choice(value, f"an ending of its own, {value.removeprefix(END)}")
        for level in flow.levels:
            yield Choice(level.id, f"{level.code}  {level.title}".strip())

    def _plain_meaning(self, text: str) -> str:
        """The level that a text means by itself; "" where it means none."""
        flow = self._draft.found.flow
        if self._known[0] is not flow:
            self._known = flow, FileDestinations(flow)
        led = self._known[1].of(FileThing("exit", "", 0, {"level": text}), Level(id=""), {})
        level = flow.level(led.to.level) if led and led.to else None
        return level.title if level else ""

    def _ask(self, row: int) -> None:
        if not 0 <= row < len(self.texts):
            return
        text = self.texts[row]
        picker = Picker(self, list(self._choices(text)), self._draft.reader.words.get(text, BY_ITSELF))
        picker.picked.connect(lambda value: self._draft.set_word(text, "" if value == BY_ITSELF else value))
        cell = self.table.visualRect(given(self.table.model()).index(row, MEANS))
        picker.open_at(given(self.table.viewport()).mapToGlobal(cell.bottomLeft()))
