"""The one clear sign that a game is listened to, or that play-tests lie over the map; a click ends it."""

from PyQt6.QtWidgets import QPushButton

from mossy_bridge.desk.play_tests.play_tests import PlayTests
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.language.numbers import counted

OVER = {"time": "Use and time shown", "failures": "Use and failures shown"}


class ListeningSign(QPushButton):
    """Stands at the end of the bar of faces while either is so."""

    def __init__(self, play_tests: PlayTests):
        super().__init__()
        self._tests = play_tests
        self.setProperty("tool", True)
        self.clicked.connect(self._end)
        for signal in (play_tests.lived, play_tests.overlaid):
            signal.connect(self._say)
        self._say()

    def _say(self) -> None:
        listening, shown = self._tests.listener.busy, self._tests.shown
        self.setProperty("listening", listening)
        self.setVisible(listening or bool(shown))
        if listening:
            players = len(self._tests.live.players)
            self.setText(f"● Listening, {counted(players, 'player')}  ✕")
            self.setToolTip(plain("Games are listened to. A click ends it."))
        elif shown:
            self.setText(f"{OVER[shown]}  ✕")
            self.setToolTip(plain("Play-tests lie over map and plans. A click takes them off."))
        style = self.style()
        if style is not None:
            style.polish(self)

    def _end(self) -> None:
        if self._tests.listener.busy:
            self._tests.listener.stop()
        else:
            self._tests.show("")
