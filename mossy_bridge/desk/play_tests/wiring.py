"""What play-tests and the rest of the window tell each other."""

from mossy_bridge.desk.faces.faces import Faces
from mossy_bridge.desk.faces.tour import TourFace
from mossy_bridge.desk.play_tests.face import PlayTestsFace
from mossy_bridge.desk.play_tests.play_tests import PlayTests
from mossy_bridge.desk.play_tests.wording import event_words
from mossy_bridge.desk.session.play_test_commands import PlayTestCommands
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.shell.verdict_line import VerdictLine
from mossy_bridge.desk.trial.walking import Walking
from mossy_bridge.play_logs.events import MOVES

NOTICE = "play-tests"


def wire_play_tests(
    tests: PlayTests, face: PlayTestsFace, commands: PlayTestCommands, faces: Faces, tour: TourFace, walking: Walking,
    selection: Selection, verdict: VerdictLine,
) -> None:  # fmt: skip
    """Connects them."""
    told = 0

    def tick_off() -> None:
        used = tests.statistics.used
        tour.tick_off([f"{kind} {name}" for kind in MOVES for name, count in used[kind].items() if count])
        faces.turn_to(tour)

    def show_place(place: str) -> None:
        level, _, thing = place.partition(".")
        here = tests.flow.level(level)
        selection.select(level, thing if here is not None and here.exit(thing) is not None else "")

    def on_lived() -> None:
        """The latest impossible event is told wherever one looks; each once."""
        nonlocal told
        wrong = tests.live.wrong
        count = wrong[-1].number if wrong else 0
        if count > told and tests.listener.busy:
            one = wrong[-1]
            words = event_words(tests.listener.flow, one.impossible.event)
            verdict.show_notice(NOTICE, f"{one.player}: {words} – {one.impossible.why}")
        told = count
        faces.tell(face, "listening" if tests.listener.busy else "")

    def on_walk(moves: tuple[str, ...], _line: int) -> None:
        if walking.trial is not None:
            walking.leave()
        walking.begin(moves)

    face.add_wanted.connect(commands.add)
    face.listen_wanted.connect(commands.listen_or_stop)
    face.place_wanted.connect(show_place)
    face.take_wanted.connect(commands.take_minutes)
    face.tick_wanted.connect(tick_off)
    tests.walked.connect(on_walk)
    tests.lived.connect(on_lived)
