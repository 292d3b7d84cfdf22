"""The trees that conditions and effects are read into, and their canonical text."""

from typing import Literal

from msgspec import Struct

Bound = Literal["at least", "at most", "exactly"]


class Constant(Struct, frozen=True):
    """``always`` or ``never``."""

    value: bool


class Has(Struct, frozen=True):
    """``has FLAG``, or ``lacks FLAG``."""

    fact: str
    wanted: bool = True


class Count(Struct, frozen=True):
    """``at least 3 oil`` and the like."""

    bound: Bound
    number: int
    fact: str


class Is(Struct, frozen=True):
    """``tide is ebb``, or ``tide is not ebb``."""

    fact: str
    value: str
    wanted: bool = True


class Visited(Struct, frozen=True):
    """``seen LEVEL`` or ``done LEVEL``."""

    what: Literal["seen", "done"]
    level: str


class SomeOf(Struct, frozen=True):
    """``at least 2 of (…, …)`` and the like."""

    bound: Bound
    number: int
    parts: "tuple[Condition, ...]"


class Not(Struct, frozen=True):
    """``not …``."""

    part: "Condition"


class All(Struct, frozen=True):
    """``… and …``."""

    parts: "tuple[Condition, ...]"


class AnyOf(Struct, frozen=True):
    """``… or …``."""

    parts: "tuple[Condition, ...]"


Condition = Constant | Has | Count | Is | Visited | SomeOf | Not | All | AnyOf

EffectVerb = Literal["gain", "lose", "add", "take", "set", "raise", "lower", "turn", "clear"]


class Effect(Struct, frozen=True):
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
