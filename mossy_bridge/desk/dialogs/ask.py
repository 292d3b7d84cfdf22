"""A question with one line to answer on."""

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QLineEdit, QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.exchange.rereading import cleaned
from mossy_bridge.model.flow import LONGEST_NAME


class AskDialog(QDialog):
    """Asks; ``answer`` is what was written."""

    def __init__(self, parent: QWidget | None, title: str, question: str):
        super().__init__(parent)
        self.setWindowTitle(title)
        words = Label(question)
        words.setWordWrap(True)
        self.line = QLineEdit()
        self.line.setMaxLength(LONGEST_NAME)
        self.line.setAccessibleName(question)
        buttons = QDialogButtonBox.StandardButton
        box = QDialogButtonBox(buttons.Ok | buttons.Cancel)
        box.accepted.connect(self.accept)
        box.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 14, 16, 12)
        layout.setSpacing(10)
        for widget in (words, self.line, box):
            layout.addWidget(widget)
        self.setMinimumWidth(420)

    @property
    def answer(self) -> str:
        """What was written, tidied."""
        return cleaned(self.line.text()).strip()
