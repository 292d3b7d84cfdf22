"""Text to tree. What cannot be read is a :class:`WrongWording` that says where and what was expected."""

from collections.abc import Callable
from functools import lru_cache
from pathlib import Path
from typing import Any, Literal, cast

from lark import Lark, Token, Transformer
from lark.exceptions import UnexpectedCharacters, UnexpectedEOF, UnexpectedToken, VisitError
from platformdirs import user_cache_path

from mossy_bridge.language import tree as t
from mossy_bridge.model.flow import LONGEST_TEXT, MOST
from mossy_bridge.model.ids import KEYWORDS

_DEEPEST = 60
LONGEST_SHOWN = 40
"""Of a longer word only so much is said back."""


class WrongWording(ValueError):  # noqa: N818 - named for what the user reads
    """A condition or effect that cannot be read; the message is a sentence for the user."""

    def __init__(self, message: str, column: int):
        super().__init__(message)
        self.column = column
        """Where in the text, counted from 1."""


class _Builder(Transformer[Token, Any]):
    """Turns lark's parse into our trees. Method names are the grammar's."""

    def any(self, parts: list[Any]) -> t.Condition:
        return t.AnyOf(tuple(parts))

    def all(self, parts: list[Any]) -> t.Condition:
        return t.All(tuple(parts))

    def negation(self, parts: list[Any]) -> t.Condition:
        return t.Not(parts[0])

    def group(self, parts: list[Any]) -> t.Condition:
        return cast(t.Condition, parts[0])

    def always(self, _: list[Any]) -> t.Condition:
        return t.Constant(True)

    def never(self, _: list[Any]) -> t.Condition:
        return t.Constant(False)

    def has(self, parts: list[Any]) -> t.Condition:
        return t.Has(str(parts[0]))

    def lacks(self, parts: list[Any]) -> t.Condition:
        return t.Has(str(parts[0]), wanted=False)

    def count(self, parts: list[Any]) -> t.Condition:
        return t.Count(parts[0], int(parts[1]), str(parts[2]))

    def is_value(self, parts: list[Any]) -> t.Condition:
        return t.Is(str(parts[0]), str(parts[1]))

    def is_not_value(self, parts: list[Any]) -> t.Condition:
        return t.Is(str(parts[0]), str(parts[1]), wanted=False)

    def seen(self, parts: list[Any]) -> t.Condition:
        return t.Visited("seen", str(parts[0]))

    def done(self, parts: list[Any]) -> t.Condition:
        return t.Visited("done", str(parts[0]))

    def some_of(self, parts: list[Any]) -> t.Condition:
        return t.SomeOf(parts[0], int(parts[1]), tuple(parts[2:]))

    def at_least(self, _: list[Any]) -> t.Bound:
        return "at least"

    def at_most(self, _: list[Any]) -> t.Bound:
        return "at most"

    def exactly(self, _: list[Any]) -> t.Bound:
        return "exactly"

    def gain(self, parts: list[Any]) -> t.Effect:
        return t.Effect("gain", str(parts[0]))

    def lose(self, parts: list[Any]) -> t.Effect:
        return t.Effect("lose", str(parts[0]))

    def add(self, parts: list[Any]) -> t.Effect:
        return t.Effect("add", str(parts[1]), number=int(parts[0]))

    def take(self, parts: list[Any]) -> t.Effect:
        return t.Effect("take", str(parts[1]), number=int(parts[0]))

    def set(self, parts: list[Any]) -> t.Effect:
        return t.Effect("set", str(parts[0]), number=int(parts[1]))

    def raise_to(self, parts: list[Any]) -> t.Effect:
        return t.Effect("raise", str(parts[0]), number=int(parts[1]))

    def lower_to(self, parts: list[Any]) -> t.Effect:
        return t.Effect("lower", str(parts[0]), number=int(parts[1]))

    def turn(self, parts: list[Any]) -> t.Effect:
        return t.Effect("turn", str(parts[0]), value=str(parts[1]))

    def clear(self, parts: list[Any]) -> t.Effect:
        return t.Effect("clear", str(parts[0]))


@lru_cache(maxsize=1)
def _parser() -> Lark:
    """The grammar's parser. Its tables are kept in the user's cache, which spares most of the start-up; where
    nothing can be kept they are made anew each time."""
    grammar = Path(__file__).with_name("grammar.lark").read_text("utf-8")
    folder = user_cache_path("mossy-bridge", appauthor=False)
    cache: str | bool = str(folder / "grammar.tables")
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        cache = False
    return Lark(
        grammar,
        parser="lalr",
        lexer="basic",
        start=["condition", "effect"],
        maybe_placeholders=False,
        cache=cache,
    )


def expected_after(text: str, start: Literal["condition", "effect"]) -> tuple[list[Token], frozenset[str]]:
    """The tokens of an unfinished text, and the terminals of the grammar that may come next (``$END`` where it may
    end); none of either where it cannot be read so far."""
    parser = _parser().parse_interactive(text, start)
    try:
        tokens = list(parser.exhaust_lexer())
    except (UnexpectedCharacters, UnexpectedToken):
        return [], frozenset()
    accepted: Callable[[], set[str]] = parser.accepts
    return tokens, frozenset(accepted())


@lru_cache(maxsize=20_000)
def parse_condition(text: str) -> t.Condition:
    """The tree of a condition. Raises :class:`WrongWording`."""
    if text == "always":
        return t.Constant(True)  # by far the commonest: spares loading the parser for it
    return cast(t.Condition, _parse(text, "condition"))


@lru_cache(maxsize=20_000)
def parse_effect(text: str) -> t.Effect:
    """The tree of an effect. Raises :class:`WrongWording`."""
    return cast(t.Effect, _parse(text, "effect"))


@lru_cache(maxsize=20_000)
def canonical_condition(text: str) -> str:
    """The condition as the program writes it. Raises :class:`WrongWording`."""
    return t.condition_text(parse_condition(text))


@lru_cache(maxsize=20_000)
def canonical_effect(text: str) -> str:
    """The effect as the program writes it. Raises :class:`WrongWording`."""
    return t.effect_text(parse_effect(text))


def _parse(text: str, start: str) -> Any:
    if len(text) > LONGEST_TEXT:
        raise WrongWording(f"this is longer than {LONGEST_TEXT:,} characters; split it up", 1)
    if text.count("(") > _DEEPEST or text.count("not ") > _DEEPEST * 4:
        raise WrongWording("this is nested too deeply to read; split it up", 1)
    try:
        parsed = _parser().parse(text, start=start)
        for token in parsed.scan_values(lambda value: isinstance(value, Token)):
            _refuse_huge(token)
        return _Builder().transform(parsed)
    except UnexpectedEOF as error:
        raise _unfinished(text, error.expected) from error
    except UnexpectedToken as error:
        if error.token.type == "$END":
            raise _unfinished(text, error.accepts or error.expected) from error
        wanted = _expected(error.accepts or error.expected)
        word = str(error.token) if len(error.token) <= LONGEST_SHOWN else f"{error.token[:LONGEST_SHOWN]}…"
        raise WrongWording(f"“{word}” does not fit here; {wanted}", error.column) from error
    except UnexpectedCharacters as error:
        found = text[error.pos_in_stream or 0]
        raise WrongWording(f"“{found}” cannot stand here; {_hint(found)}", error.column) from error
    except VisitError as error:
        raise WrongWording(str(error.orig_exc), 1) from error


def _refuse_huge(token: Token) -> None:
    digits = token.lstrip("0") if token.type == "INTEGER" else ""
    if len(digits) > len(str(MOST)) or int(digits or 0) > MOST:
        shown = digits if len(digits) <= 20 else f"{digits[:20]}…"
        raise WrongWording(f"{shown} is too large a number; the largest is {MOST:,}", token.column or 1)


def _unfinished(text: str, expected: Any) -> WrongWording:
    if not text.strip():
        return WrongWording("nothing is written here; write “always” if it should hold at any time", 1)
    return WrongWording(f"something is missing at the end; {_expected(expected)}", len(text) + 1)


def _expected(tokens: Any) -> str:
    words = sorted({_word(str(token)) for token in tokens}) or ["the end"]
    return f"expected {', '.join(words[:-1])} or {words[-1]}" if len(words) > 1 else f"expected {words[0]}"


def _word(token: str) -> str:
    named = {"NAME": "a name", "INTEGER": "a whole number", "$END": "the end", "LPAR": "“(”", "RPAR": "“)”"}
    return named.get(token) or ("“,”" if token == "COMMA" else f"“{token.lower()}”")


def _hint(found: str) -> str:
    if found == "-":
        return "numbers cannot be negative"
    if found.isupper():
        return "keywords and ids are lower case"
    return f"a keyword ({', '.join(sorted(KEYWORDS)[:3])} …), an id or a number is needed"
