"""Words on screen: what users have written is shown as it is, and never taken for markup.

Qt guesses whether a text is markup, and then loads the pictures it names. So labels are made here, tool tips pass
through :func:`plain`, and nothing else of Qt's that guesses is used; a test holds that.
"""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel


class Label(QLabel):
    """A label of plain words."""

    def __init__(self, text: str = ""):
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


class MarkedLabel(QLabel):
    """A label with markup of the program's own. What users have written is to be escaped before it gets in."""

    def __init__(self, text: str = ""):
        super().__init__()
        self.setTextFormat(Qt.TextFormat.RichText)
        self.setText(text)


def plain(text: str) -> str:
    """The text so that Qt does not take it for markup where it guesses, as in tool tips. It looks the same: behind what
    might begin a tag stands a character that joins words and takes no room."""
    return text.replace("<", "<\u2060").replace("&lt;", "&\u2060lt;") if "<" in text or "&lt;" in text else text
