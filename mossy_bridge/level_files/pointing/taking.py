"""Which field of a thing is its id, its place, where it leads: proposed from names and values."""

from collections.abc import Collection, Iterable, Sequence

from mossy_bridge.level_files.pointing.telling import FACES, PLACES, TRIGGERS, is_number, rank, word_of
from mossy_bridge.model.flow import TAKEN, ThingKind

NOT_NAMED = 99
_SIZES = frozenset(["size", "extent", "dimensions", "room"])


class FieldTable:
    """The fields of all things that a rule finds, with their values."""

    def __init__(self, things: Iterable[dict[str, str]]):
        self.values: dict[str, list[str]] = {}
        for fields in things:
            for expression, text in fields.items():
                self.values.setdefault(expression, []).append(text)

    def numbers(self) -> list[str]:
        """The expressions that find numbers only."""
        return [expression for expression, texts in self.values.items() if all(map(is_number, texts))]

    def unique(self, expression: str) -> bool:
        """Whether hardly a value is there twice."""
        texts = self.values[expression]
        return len(set(texts)) * 10 >= len(texts) * 9


def proposed_take(
    makes: ThingKind, table: FieldTable, levels: Collection[str], spawns: Collection[str]
) -> dict[str, str]:
    """What a rule takes, by what it is: the expressions most likely to find it. ``levels`` are all texts that a level
    is called by, ``spawns`` the ids of spawn points. What nothing speaks for is left out."""
    found = _places(makes, table)
    left = [expression for expression in table.values if expression not in found.values()]
    if makes == "exit":
        _add(found, "level", _leading(table, left, levels))
        left = [expression for expression in left if expression != found.get("level")]
        _add(found, "spawn", _arriving(table, left, spawns))
        _add(found, "trigger", _among(table, left, TRIGGERS))
    if makes == "spawn":
        _add(found, "faces", _among(table, left, FACES))
    if makes in ("exit", "spawn", "deed"):
        taken = set(found.values())
        names = [expression for expression in left if expression not in taken]
        _add(found, "id", _called(table, names))
        _add(found, "name", _best("name", [one for one in names if one != found.get("id")]))
    if makes == "deed":
        _add(found, "gains", _best("gains", [one for one in left if one not in found.values()]))
    if makes == "plan":
        _add(found, "picture", _best("picture", left))
    return {key: found[key] for key in TAKEN[makes] if key in found}


def _add(found: dict[str, str], key: str, expression: str) -> None:
    if expression:
        found[key] = expression


def _best(meaning: str, expressions: Iterable[str]) -> str:
    """The expression named most plainly for something; the shortest of those alike."""
    named = [one for one in expressions if rank(meaning, one) < NOT_NAMED]
    return min(named, key=lambda one: (one.count("/") + one.count("."), rank(meaning, one)), default="")


def _places(makes: ThingKind, table: FieldTable) -> dict[str, str]:
    """Place and size: by name, else by their order in a list of numbers, or among the numbers of a line."""
    wanted = [key for key in PLACES if key in TAKEN[makes]]
    numbers = table.numbers()
    found = {key: best for key in wanted if (best := _best(key, numbers))}
    for word, parts in _lists(numbers).items():
        if len(parts) >= 2 and not found.keys() >= set(wanted):
            size = makes == "plan" or word in _SIZES
            keys = ("width", "height") if size and len(parts) == 2 else PLACES[: len(parts)]
            for key, expression in zip(keys, parts, strict=False):
                if key in wanted:
                    found.setdefault(key, expression)
    return found


def _lists(numbers: Sequence[str]) -> dict[str, list[str]]:
    """Expressions that end with a place in a list, by list, in order."""
    lists: dict[str, dict[int, str]] = {}
    for expression in numbers:
        word, at = word_of(expression)
        if at is not None:
            lists.setdefault(word, {})[at] = expression
    return {word: [parts[at] for at in sorted(parts)] for word, parts in lists.items() if sorted(parts)[0] == 0}


def _leading(table: FieldTable, expressions: Sequence[str], levels: Collection[str]) -> str:
    """The field whose values look like other levels' names, files or numbers."""

    def likely(expression: str) -> float:
        texts = [text.strip() for text in table.values[expression] if text.strip()]
        named = rank("level", expression)
        if not texts:
            return 0.2 if named < NOT_NAMED else 0.0
        share = sum(text in levels for text in texts) / len(texts)
        if all(map(is_number, texts)) and named == NOT_NAMED:
            return 0.0  # numbers of all kinds are numbers of levels, too
        return share + (0.5 - named / 100 if named < NOT_NAMED else 0.0)

    best = max(expressions, key=likely, default="")
    return best if best and likely(best) >= 0.3 else ""


def _arriving(table: FieldTable, expressions: Sequence[str], spawns: Collection[str]) -> str:
    """The field whose values look like spawn points."""

    def likely(expression: str) -> float:
        texts = [text.strip() for text in table.values[expression] if text.strip()]
        named = rank("spawn", expression)
        if not texts or all(map(is_number, texts)) or {text.lower() for text in texts} <= TRIGGERS:
            return 0.0
        share = sum(text in spawns for text in texts) / len(texts)
        own = rank("id", expression) < NOT_NAMED
        return (0 if own else share) + (0.5 - named / 100 if named < NOT_NAMED else 0.0)

    best = max(expressions, key=likely, default="")
    return best if best and likely(best) >= 0.3 else ""


def _among(table: FieldTable, expressions: Iterable[str], known: Collection[str]) -> str:
    """The first field that has none but known values."""
    return next(
        (one for one in expressions if table.values[one] and all(text in known for text in table.values[one])), ""
    )


def _called(table: FieldTable, expressions: Sequence[str]) -> str:
    """The field that things are called by: a name before a number, where names differ."""
    named = [one for one in expressions if rank("id", one) < NOT_NAMED]
    words = [one for one in named if not all(map(is_number, table.values[one])) and table.unique(one)]
    return _best("id", words) or _best("id", named)
