"""The face *Boards*: a page of tiles as the player sees it, made by hand or at once, and what opens as play goes on."""

from collections.abc import Iterator

from msgspec import Struct
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QSlider,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.boards.canvas import BoardCanvas, tiles_of
from mossy_bridge.desk.boards.painting import TileLook
from mossy_bridge.desk.boards.wiring import wire_board
from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.board import BoardSentence, HandSentence, TileSentence, named_tile
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.widgets.drop_down import DropDown
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.workers.background_task import BackgroundTask
from mossy_bridge.desk.workers.condition_query import ConditionQuery
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.patterns import resolved
from mossy_bridge.plan.laying import Part
from mossy_bridge.play.board_progress import (
    BoardMoment,
    ByHand,
    asked_by_tiles,
    board_along,
    board_moment,
    condition_of,
    state_by_hand,
)
from mossy_bridge.play.narration import named_move
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move, parse_move
from mossy_bridge.reach.queries.transition_tour import widest_walk
from mossy_bridge.reach.queries.where_condition_holds import WhereItHolds
from mossy_bridge.reach.survey.result import Survey

COLUMNS = ("tile", "opens when", "first open")
BY_HAND = "as set by hand"
ALL_OPEN = "all tiles open"


class WalkOnBoard(Struct, frozen=True):
    """A walk by what it is called, and the board at each of its moments."""

    name: str
    moments: tuple[BoardMoment, ...]


def walks_on(flow: Flow, survey: Survey, board: Level) -> Iterator[WalkOnBoard]:
    """The walks along which a board is shown: the shortest to each ending, the fullest, and recorded ones."""
    rules = Rules(flow, resuming=True, before=survey.rules)
    walks: list[tuple[str, tuple[Move, ...]]] = []
    for ending in survey.flow.endings:
        verdict = survey.endings.get(ending.id)
        if verdict and verdict.answer == "yes":
            walks.append((f"shortest to {ending.name or ending.id}", tuple(verdict.route)))
    fullest = widest_walk(survey)
    walks += [("fullest", tuple(fullest))] if fullest else []
    for walk in flow.walks:
        moves = (move for text in walk.moves if (move := parse_move(text)))
        walks.append((walk.name or walk.id, tuple(moves)))
    for name, route in walks:
        yield WalkOnBoard(name, tuple(board_along(rules, board, route)))


class BoardsFace(QWidget):
    """Shows and edits one board at a time: the one selected, or the one shown last."""

    title, tip = "Boards", "Pages on which the player chooses a level"
    follows_survey = True

    def __init__(self, look: Look, requests: Requests, selection: Selection, person: Person):
        super().__init__()
        self._requests, self._selection, self._person = requests, selection, person
        self._flow = Flow()
        self._survey: Survey | None = None
        self._board: Level | None = None
        self._walks: list[WalkOnBoard] = []
        self._asked_for: tuple[object, ...] = ()
        self._hand = ByHand()
        self.canvas = BoardCanvas(look)
        self.sentence = BoardSentence(requests, self._selection.select, self._new_board)
        self.tile = TileSentence(requests)
        self.hand = HandSentence(self._on_hand)
        self.table = QTableWidget(0, len(COLUMNS))
        self.progress = DropDown()
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.moment = Label("")
        self._told = ""
        """What was said last of what is shown."""
        self.try_it = QPushButton("&Try it")
        self._task, self._query = BackgroundTask(self), ConditionQuery(self)
        self._arrange()
        self._connect()

    def _arrange(self) -> None:
        self.table.setHorizontalHeaderLabels(COLUMNS)
        given(self.table.verticalHeader()).hide()
        given(self.table.verticalHeader()).setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        given(self.table.verticalHeader()).setMinimumSectionSize(36)
        self.table.setShowGrid(False)
        self.table.setWordWrap(True)
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        given(self.table.horizontalHeader()).setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.table.setAccessibleName("When each tile opens")
        self.progress.setAccessibleName("What is open")
        self.progress.setSizeAdjustPolicy(DropDown.SizeAdjustPolicy.AdjustToContents)
        self.progress.setMaximumWidth(260)
        self.slider.setAccessibleName("How far the walk has got")
        self.try_it.setCheckable(True)
        self.try_it.setToolTip("Move the cursor with the arrow keys as the player would; Escape ends it")
        self.moment.setWordWrap(True)
        below = QHBoxLayout()
        below.addWidget(self.progress)
        below.addWidget(self.slider, 3)
        below.addWidget(self.moment, 3)
        below.addWidget(self.try_it)
        left = QVBoxLayout()
        left.addWidget(self.canvas, 1)
        left.addWidget(self.hand)
        left.addLayout(below)
        right = QVBoxLayout()
        right.addWidget(self.tile)
        right.addWidget(self.table, 1)
        middle = QHBoxLayout()
        middle.setSpacing(12)
        middle.addLayout(left, 5)
        middle.addLayout(right, 3)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addWidget(self.sentence)
        layout.addLayout(middle, 1)

    def _connect(self) -> None:
        canvas = self.canvas
        wire_board(canvas, self._requests, self._selection)
        canvas.tried.connect(self.moment.setText)
        canvas.try_ended.connect(lambda: self.try_it.setChecked(False))
        self.try_it.toggled.connect(self._on_try)
        self.progress.activated.connect(self._show_progress)
        self.slider.valueChanged.connect(self._show_moment)
        self.table.cellClicked.connect(lambda row, _: self._choose_row(row))
        self._selection.changed.connect(self._on_selected)
        self._task.done.connect(self._on_walks)

    @property
    def board_id(self) -> str:
        """The board shown; "" if there is none."""
        return self._board.id if self._board else ""

    @property
    def busy(self) -> bool:
        """Whether walks are being looked for."""
        return self._task.busy

    # -- showing ---------------------------------------------------------------------------------------

    def show_flow(self, flow: Flow, result: Appraisal | None) -> None:
        """Shows another flow, or another survey of it."""
        self._flow, self._survey = resolved(flow), result.survey if result else None
        self._show_board()

    def _on_selected(self) -> None:
        if self.isVisible():
            self._show_board()

    def _chosen_board(self) -> Level | None:
        """The board selected, or else the one shown before, or the first."""
        boards = [level for level in self._flow.levels if level.kind == "board"]
        wanted = (self._selection.level_id, self.board_id)
        return next((one for name in wanted for one in boards if one.id == name), boards[0] if boards else None)

    def _show_board(self) -> None:
        before, board = self.board_id, self._chosen_board()
        self._board = board
        for widget in (self.canvas, self.tile, self.table, self.progress, self.slider, self.moment, self.try_it):
            widget.setVisible(board is not None)
        if board is None:
            self.hand.hide()
            self.sentence.say_nothing(self._flow)
            return
        if board.id != before:
            self._hand = ByHand()
        selected = self._selection.now
        tiles = tiles_of(selected.parts) if selected.level == board.id else ()
        self.canvas.show_board(self._flow, board, tiles, self._requests.folder)
        self.sentence.say(self._flow, board)
        self._say_tile(board)
        self._ask_for_walks(board)
        self._show_progress()

    def _say_tile(self, board: Level) -> None:
        chosen = [tile for tile in board.tiles if tile.id in self.canvas.tiles]
        if len(chosen) == 1:
            self.tile.say(self._flow, board, chosen[0])
        else:
            self.tile.say_nothing(self._flow, len(chosen))

    def _ask_for_walks(self, board: Level) -> None:
        survey, flow = self._survey, self._flow
        asked_for = (survey, board.tiles, board.cursor, board.first_tile, board.id)
        if asked_for == self._asked_for:
            return
        self._asked_for = asked_for
        if survey is None:
            self._task.cancel()
            self._on_walks([])
        else:
            self._task.ask(lambda _: list(walks_on(flow, survey, board)))

    def _on_walks(self, found: object) -> None:
        if not isinstance(found, list):
            return
        before = self.progress.currentText()
        self._walks = found
        self.progress.clear()
        self.progress.addItems([ALL_OPEN, *(walk.name for walk in found), BY_HAND])
        self.progress.setCurrentIndex(max(self.progress.findText(before), 0))
        self._show_progress()

    # -- progress --------------------------------------------------------------------------------------

    @property
    def _walk(self) -> WalkOnBoard | None:
        index = self.progress.currentIndex() - 1
        return self._walks[index] if 0 <= index < len(self._walks) else None

    def _show_progress(self) -> None:
        if self._board is None:
            return
        walk, by_hand = self._walk, self.progress.currentText() == BY_HAND
        self.slider.setVisible(walk is not None)
        self.hand.setVisible(by_hand)
        if walk:
            self.slider.setRange(0, max(len(walk.moments) - 1, 0))
        if by_hand:
            self.hand.say(self._flow, asked_by_tiles(self._flow, self._board), self._hand)
        self._fill_table()
        self._show_moment()

    def _show_moment(self) -> None:
        board, walk = self._board, self._walk
        if board is None:
            return
        if walk and walk.moments:
            moment = walk.moments[min(self.slider.value(), len(walk.moments) - 1)]
            self._show_open(board, moment)
            self._tell_moment(self._told_moment(board, moment))
        elif self.progress.currentText() == BY_HAND:
            self._show_by_hand(board)
        else:
            self.canvas.show_looks({})
            count = len(board.tiles)
            self._tell_moment(f"{count} tile{'' if count == 1 else 's'}, shown as if all were open.")

    def _tell_moment(self, words: str) -> None:
        """Says what is shown; while a board is tried, what the cursor has met stays until something else is shown."""
        if not self.try_it.isChecked() or words != self._told:
            self.moment.setText(words)
        self._told = words

    def _show_open(self, board: Level, moment: BoardMoment) -> None:
        self.canvas.show_looks({
            tile.id: TileLook(tile.id in moment.open, tile.id in moment.in_reach, tile.id in moment.new)
            for tile in board.tiles
        })  # fmt: skip

    def _told_moment(self, board: Level, moment: BoardMoment) -> str:
        number = self.slider.value()
        move = parse_move(moment.move) if moment.move else None
        rules = self._survey.rules if self._survey else None
        after = f"after {named_move(rules, move)}" if rules and move else "at the start"
        return f"Move {number}, {after}: {len(moment.open)} of {len(board.tiles)} open."

    def _show_by_hand(self, board: Level) -> None:
        survey = self._survey
        state = state_by_hand(survey.rules, self._hand) if survey else None
        if survey is None or state is None:
            self.canvas.show_looks({})
            self.moment.setText("The flow has no start yet.")
            return
        moment = board_moment(survey.rules, board, state)
        self._show_open(board, BoardMoment("", moment.open, moment.in_reach, frozenset()))
        told = f"{len(moment.open)} of {len(board.tiles)} open."
        self.moment.setText(told)
        condition = condition_of(self._flow, asked_by_tiles(self._flow, board), self._hand)
        self._query.ask(self._flow, condition, "", lambda found: self._on_found(told, found))

    def _on_found(self, told: str, found: WhereItHolds | None) -> None:
        if found is None or self.progress.currentText() != BY_HAND:
            return
        if found.levels:
            words = "Some playthrough has it so."
        else:
            words = "No playthrough has it so." if found.complete else "No playthrough was found that has it so."
        self.moment.setText(f"{told} {words}")

    def _on_hand(self, hand: ByHand) -> None:
        self._hand = hand
        self._show_progress()

    def _fill_table(self) -> None:
        board, wording, walk = self._board, Wording(self._flow), self._walk
        tiles = board.tiles if board else ()
        self.table.setRowCount(len(tiles))
        for row, tile in enumerate(tiles):
            level = self._flow.level(tile.level)
            opens = wording.condition(level.opens) if level else "never: it leads nowhere"
            for column, text in enumerate((named_tile(self._flow, tile), opens, self._first_open(walk, tile.id))):
                self.table.setItem(row, column, QTableWidgetItem(text))

    def _first_open(self, walk: WalkOnBoard | None, tile: str) -> str:
        """When a tile is first open along a walk."""
        if walk is None or self._survey is None:
            return "choose a walk below"
        for number, moment in enumerate(walk.moments):
            if tile in moment.open:
                move = parse_move(moment.move) if moment.move else None
                return f"move {number}: {named_move(self._survey.rules, move)}" if move else "from the start"
        return "not along it"

    # -- asking ----------------------------------------------------------------------------------------

    def _new_board(self) -> None:
        name = self._person.ask("New board", "What is it called?")
        if name:
            self._requests.boards.add_board(name)

    def _choose_row(self, row: int) -> None:
        if self._board and row < len(self._board.tiles):
            self.canvas.setFocus()
            self._selection.select_parts(self.board_id, [Part("tiles", self._board.tiles[row].id)])

    def _on_try(self, on: bool) -> None:
        if on:
            self.canvas.begin_try()
        else:
            self.canvas.end_try()
            self._show_moment()
