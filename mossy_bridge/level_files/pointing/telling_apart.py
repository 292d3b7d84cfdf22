"""What tells things apart from what looks like them: the field that says their sort, of them or of what holds them."""

from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Sequence
from typing import NamedTuple

from mossy_bridge.level_files.pointing.sample import Sample
from mossy_bridge.level_files.pointing.telling import HOLDERS, NAMES, SORTS, tells_no_sort, word_of

Path = tuple[str | None, ...]
Place = tuple[int, int]
"""A node: the number of its sample, and its own."""
ENOUGH = 3
"""What must speak for a field before it is taken to say the sort."""


class Test(NamedTuple):
    """Holds of nodes whose field has one of some values."""

    field: str
    texts: tuple[str, ...]


def own_fields(samples: Sequence[Sample], place: Place) -> dict[str, str]:
    """The fields that can stand in a test: attributes, and the texts of members and elements directly below."""
    sample = samples[place[0]]
    if sample.form == "xml":
        first: dict[str, str] = {}  # of several elements of one name the first is asked
        for child in sample.children[place[1]]:
            node = sample.nodes[child]
            first.setdefault(node.name, "" if sample.children[child] else " ".join(node.text.split()))
        found = {f"@{name}": text for name, text in sample.nodes[place[1]].attributes.items()}
        return found | {name: text for name, text in first.items() if text}
    fields = sample.fields[place[1]]
    own = {key: text for key, text in fields.items() if key.count(".") == 1 and "[" not in key}
    texts = {sample.nodes[c].name for c in sample.children[place[1]] if sample.nodes[c].kind == "text"}
    return {key: text for key, text in own.items() if key.removeprefix("$.") in texts}


def sort_tests(
    samples: Sequence[Sample],
    pointed: Sequence[Place],
    kindred: Sequence[Place],
    others: Collection[Place],
    levels: Collection[str],
) -> list[Test]:
    """Tests of a field that pass what is pointed at and not all of its ``kindred``, the likeliest to say the sort
    first. ``others`` have been said to be something else; values that name ``levels`` are destinations."""
    fields = {place: own_fields(samples, place) for place in kindred}
    marks = [(_mark(samples, key, pointed, fields, others, levels), key) for key in own_fields(samples, pointed[0])]
    good = sorted((found for found in marks if found[0] >= ENOUGH), key=lambda found: -found[0])
    return [Test(key, tuple(dict.fromkeys(fields[place][key] for place in pointed))) for _, key in good]


def _mark(
    samples: Sequence[Sample],
    key: str,
    pointed: Sequence[Place],
    fields: dict[Place, dict[str, str]],
    others: Collection[Place],
    levels: Collection[str],
) -> int:
    """How much speaks for a field saying the sort of things."""
    if not all(key in fields[place] for place in pointed):
        return 0
    values = {place: own[key] for place, own in fields.items() if key in own}
    distinct = set(values.values())
    here = {values[place] for place in pointed}
    named = word_of(key)[0] in SORTS
    if tells_no_sort(list(distinct)) or any(text in levels for text in here):
        return 0
    if len(here) > 1 and len(here) == len(pointed) and not named:
        return 0  # each of those pointed at has its own
    if len(distinct) == 1 or (len(distinct) == len(values) and len(values) > 2):
        return 4 if named else 0
    elsewhere = [place for place in others if place in values]
    apart = bool(elsewhere) and not any(values[place] in here for place in elsewhere)
    repeated = len(values) >= 2 * len(distinct)
    return 4 * named + 2 * _shapes_differ(values, fields) + 3 * apart + repeated + _usual(values, here, len(samples))


def _shapes_differ(values: dict[Place, str], fields: dict[Place, dict[str, str]]) -> bool:
    """Whether things of one value have the same fields, and those of another value others."""
    shapes: dict[str, set[frozenset[str]]] = {}
    for place, text in values.items():
        shapes.setdefault(text, set()).add(frozenset(fields[place]))
    commonest = [min(found, key=len) for found in shapes.values() if len(found) <= 2]
    return len(commonest) == len(shapes) and len(set(commonest)) > 1


def _usual(values: dict[Place, str], here: Iterable[str], samples: int) -> int:
    """1 where the values are found in most of several samples."""
    if samples < 2:
        return 0
    counts = Counter(text for text, _ in {(text, place[0]) for place, text in values.items()})
    return int(all(2 * counts[text] > samples for text in here))


def holder_tests(samples: Sequence[Sample], pointed: Sequence[Place]) -> Iterator[tuple[int, Test]]:
    """Tests of what holds the things, such as a layer: how far up it is, and the test. Only where others like it have
    another value, so that it sorts what it holds."""
    for up in (1, 2, 3):
        found_above = [above(samples, place, up) for place in pointed]
        holders = list(dict.fromkeys(holder for holder in found_above if holder))
        if None in found_above:
            return
        for key in own_fields(samples, holders[0]):
            if word_of(key)[0] not in NAMES | SORTS:
                continue
            texts = {own_fields(samples, holder).get(key) for holder in holders}
            found = texts - {None}
            if len(found) == len(texts) == 1 and _sorts(samples, holders[0], key):
                yield up, Test(key, tuple(text for text in found if text))


def _sorts(samples: Sequence[Sample], holder: Place, key: str) -> bool:
    """Whether a field of a holder sorts what is in it: others like it have another value, and it says the sort by its
    name, or has the same value in most files."""
    sample = samples[holder[0]]
    build = build_of(sample, holder[1])
    alike = [number for number in range(len(sample.nodes)) if like(sample, number, build)]
    texts = [own_fields(samples, (holder[0], number)).get(key, "") for number in alike]
    if len(set(texts)) < 2:
        return False
    if word_of(key)[0] in SORTS or kind_name(sample, holder[1]) in HOLDERS:
        return True
    here = own_fields(samples, holder)[key]
    usual = [any(fields.get(key) == here for fields in other.fields) for other in samples]
    return len(samples) > 1 and 2 * sum(usual) > len(samples)


def above(samples: Sequence[Sample], place: Place, up: int) -> Place | None:
    """The node so far above another; None beyond the root. Lists are passed over."""
    sample, number = samples[place[0]], place[1]
    for _ in range(up):
        number = sample.nodes[number].parent
        while number >= 0 and sample.nodes[number].kind == "list":
            number = sample.nodes[number].parent
    return (place[0], number) if number >= 0 else None


def like(sample: Sample, number: int, build: str | Path) -> bool:
    """Whether a node is of a build: an element of that name, or a value that the path finds."""
    if isinstance(build, str):
        return sample.nodes[number].name == build
    path = path_of(sample, number)
    return len(path) == len(build) and all(step in (None, key) for step, key in zip(build, path, strict=True))


def build_of(sample: Sample, number: int) -> str | Path:
    """What is the same in nodes that may be of one sort: their name, or their path."""
    return sample.nodes[number].name if sample.form == "xml" else path_of(sample, number)


def kind_name(sample: Sample, number: int) -> str:
    """The name that says what a node is: its own, or that of the list it stands in."""
    name = sample.nodes[number].name or next((step for step in reversed(path_of(sample, number)) if step), "")
    plain = name.rpartition(":")[2].lower()
    return plain.removesuffix("s") if plain.removesuffix("s") in HOLDERS else plain


def path_of(sample: Sample, number: int) -> Path:
    """The keys from the root; None for a place in a list, where any will do."""
    steps: list[str | None] = []
    while (parent := sample.nodes[number].parent) >= 0:
        steps.append(None if sample.in_list(number) else sample.nodes[number].name)
        number = parent
    return tuple(reversed(steps))
