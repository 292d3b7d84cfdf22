"""The trees that conditions and effects are read into, and their canonical text."""

from dataclasses import dataclass
from typing import Literal

Bound = Literal["at least", "at most", "exactly"]


@dataclass(frozen=True, slots=True)
class Constant:
    """``always`` or ``never``."""

    value: bool


@dataclass(frozen=True, slots=True)
class Has:
    """``has FLAG``, or ``lacks FLAG``."""

    fact: str
    wanted: bool = True


@dataclass(frozen=True, slots=True)
class Count:
    """``at least 3 oil`` and the like."""

    bound: Bound
    number: int
    fact: str


@dataclass(frozen=True, slots=True)
class Is:
    """``tide is ebb``, or ``tide is not ebb``."""

    fact: str
    value: str
    wanted: bool = True


@dataclass(frozen=True, slots=True)
class Visited:
    """``seen LEVEL`` or ``done LEVEL``."""

    what: Literal["seen", "done"]
    level: str


@dataclass(frozen=True, slots=True)
class SomeOf:
    """``at least 2 of (…, …)`` and the like."""

    bound: Bound
    number: int
    parts: "tuple[Condition, ...]"


@dataclass(frozen=True, slots=True)
class Not:
    """``not …``."""

    part: "Condition"


@dataclass(frozen=True, slots=True)
class All:
    """``… and …``."""

    parts: "tuple[Condition, ...]"


@dataclass(frozen=True, slots=True)
class AnyOf:
    """``… or …``."""

    parts: "tuple[Condition, ...]"


Condition = Constant | Has | Count | Is | Visited | SomeOf | Not | All | AnyOf

EffectVerb = Literal["gain", "lose", "add", "take", "set", "raise", "lower", "turn", "clear"]


@dataclass(frozen=True, slots=True)
class Effect:
    """A change to one fact. ``number`` is used by add, take, set, raise and lower; ``value`` by turn."""

    verb: EffectVerb
    fact: str
    number: int = 0
    value: str = ""


def within_bound(bound: Bound, have: int, number: int) -> bool:
    """Whether ``have`` is at least, at most or exactly ``number``."""
    if bound == "at least":
        return have >= number
    return have <= number if bound == "at most" else have == number


def condition_text(tree: Condition) -> str:
    """The canonical text of a condition."""
    match tree:
        case Constant(value):
            return "always" if value else "never"
        case Has(fact, wanted):
            return f"{'has' if wanted else 'lacks'} {fact}"
        case Count(bound, number, fact):
            return f"{bound} {number} {fact}"
        case Is(fact, value, wanted):
            return f"{fact} is {value}" if wanted else f"{fact} is not {value}"
        case Visited(what, level):
            return f"{what} {level}"
        case SomeOf(bound, number, parts):
            return f"{bound} {number} of ({', '.join(map(condition_text, parts))})"
        case Not(part):
            return f"not {_grouped(part, (All, AnyOf))}"
        case All(parts):
            return " and ".join(_grouped(part, (All, AnyOf)) for part in parts)
        case AnyOf(parts):
            return " or ".join(_grouped(part, (AnyOf,)) for part in parts)


def _grouped(tree: Condition, kinds: tuple[type, ...]) -> str:
    text = condition_text(tree)
    return f"({text})" if isinstance(tree, kinds) else text


def effect_text(effect: Effect) -> str:
    """The canonical text of an effect."""
    match effect.verb:
        case "add" | "take":
            return f"{effect.verb} {effect.number} {effect.fact}"
        case "set" | "raise" | "lower":
            return f"{effect.verb} {effect.fact} to {effect.number}"
        case "turn":
            return f"turn {effect.fact} to {effect.value}"
        case _:
            return f"{effect.verb} {effect.fact}"


def parts_of(tree: Condition) -> "tuple[Condition, ...]":
    """The conditions directly inside a condition."""
    match tree:
        case SomeOf(_, _, parts) | All(parts) | AnyOf(parts):
            return parts
        case Not(part):
            return (part,)
        case _:
            return ()


def atoms(tree: Condition) -> "tuple[Condition, ...]":
    """Every part that holds no other, from left to right."""
    parts = parts_of(tree)
    return tuple(atom for part in parts for atom in atoms(part)) if parts else (tree,)
