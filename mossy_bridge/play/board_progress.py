"""What is open on a board as play goes on: at each moment of a walk, or with facts set by hand."""

from collections.abc import Iterable, Iterator

from msgspec import Struct

from mossy_bridge.language.asked import Asked, asked_by
from mossy_bridge.language.evaluation import FactValue
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.play.board_cursor import tiles_in_reach
from mossy_bridge.play.replay import play
from mossy_bridge.play.rules import NONE, Rules
from mossy_bridge.play.state import Move, State


class BoardMoment(Struct, frozen=True):
    """A board at one moment: the move that led to it ("" at the beginning), the tiles that are open, those the cursor
    can get to, and those that have opened since the moment before."""

    move: str
    open: frozenset[str]
    in_reach: frozenset[str]
    new: frozenset[str]


def open_tiles(rules: Rules, board: Level, state: State) -> frozenset[str]:
    """The tiles of a board that are open in a state, wherever the player is."""
    return frozenset(
        tile.id for tile in board.tiles if rules.landing_of(tile) and rules.levels[tile.level].opens(state)
    )


def board_moment(rules: Rules, board: Level, state: State) -> BoardMoment:
    """A board in one state; nothing counts as newly open, as nothing went before."""
    opened = open_tiles(rules, board, state)
    return BoardMoment("", opened, frozenset(tiles_in_reach(board, opened)), NONE)


def board_along(rules: Rules, board: Level, moves: Iterable[Move]) -> Iterator[BoardMoment]:
    """A board at the beginning, and after each move of a walk that leads to a state."""
    state = rules.begin()
    if state is None:
        return
    moment = board_moment(rules, board, state)
    yield moment
    for taken in play(rules, map(str, moves)):
        if not isinstance(taken.after, State):
            return
        now = board_moment(rules, board, taken.after)
        moment = BoardMoment(taken.move, now.open, now.in_reach, now.open - moment.open)
        yield moment


class ByHand(Struct, frozen=True):
    """What a player has, set by hand as far as the tiles of a board ask for it: values of facts, and levels seen and
    completed; all else is as at the start."""

    facts: dict[str, FactValue] = {}
    seen: frozenset[str] = NONE
    done: frozenset[str] = NONE


def asked_by_tiles(flow: Flow, board: Level) -> Asked:
    """What the levels that a board leads to ask of those who enter."""
    levels = {level.id: level for level in flow.levels}
    return asked_by(levels[tile.level].opens for tile in board.tiles if tile.level in levels)


def state_by_hand(rules: Rules, hand: ByHand) -> State | None:
    """A state in which a player has what was set by hand; None where the flow has no start."""
    state = rules.begin()
    if state is None:
        return None
    facts = tuple(hand.facts.get(fact.id, fact.first) for fact in rules.flow.facts)
    return state._replace(facts=facts, seen=hand.seen, done=hand.done)


def condition_of(flow: Flow, asked: Asked, hand: ByHand) -> str:
    """The condition that holds where a player has, of all that is asked, just what was set by hand."""
    parts = []
    for fact in flow.facts:
        if fact.id in asked.facts:
            value = hand.facts.get(fact.id, fact.first)
            if fact.kind == "flag":
                parts.append(f"{'has' if value else 'lacks'} {fact.id}")
            else:
                parts.append(f"exactly {value} {fact.id}" if fact.kind == "count" else f"{fact.id} is {value}")
    for what, levels, having in (("seen", asked.seen, hand.seen), ("done", asked.done, hand.done)):
        parts += [f"{what} {name}" if name in having else f"not ({what} {name})" for name in sorted(levels)]
    return " and ".join(parts) or "always"
