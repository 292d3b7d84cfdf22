"""A made-up game whose level files are written in each form, with what is truly in them told beside."""

import json
import random
from xml.sax.saxutils import quoteattr

from mossy_bridge.exchange.reading import flow_from_tree

FORMS = ("xml", "json", "text")
ENDINGS = {"xml": "xml", "json": "json", "text": "map"}
KINDS = {"exit": "gate", "spawn": "start", "deed": "pickup", "solid": "rock"}


def random_level(pick, others):
    """What is in one level: plain values in plan units, y growing down; places are whole quarters."""

    def number(most):
        return pick.randrange(0, most * 4) / 4

    things = [{"kind": "solid", "x": number(60), "y": number(16), "width": number(8) + 1, "height": number(4) + 1}
              for _ in range(pick.randrange(4))]  # fmt: skip
    for number_, kind in enumerate(pick.choices(("exit", "spawn", "deed"), k=pick.randrange(1, 9))):
        thing = {"kind": kind, "id": f"{pick.choice('abc')} {kind}-{number_}", "x": number(60), "y": number(16),
                 "width": number(3) + 1, "height": number(3) + 1}  # fmt: skip
        if kind == "exit":
            thing["level"] = pick.choice(others)
        if kind == "deed":
            thing["gains"] = pick.choice(("oil", "old bell"))
        things.append(thing)
    return {"width": 64, "height": 18, "things": things}


def in_file(thing, scale, height, up, anchor):
    """A thing's numbers as a file has them, whose units are ``scale`` plan units."""
    x, y, width, height_ = (thing[key] for key in ("x", "y", "width", "height"))
    low = height - y - height_ if up else y
    at = {
        "corner": (x, low),
        "centre": (x + width / 2, low + height_ / 2),
        "foot": (x + width / 2, low if up else low + height_),
    }[anchor]
    return {"x": at[0] / scale, "y": at[1] / scale, "width": width / scale, "height": height_ / scale}


def written(form, level, scale=1.0, up=False, anchor="corner"):
    """The bytes of a level's file."""
    rows = [{"kind": KINDS[thing["kind"]], **{key: thing[key] for key in ("id", "level", "gains") if key in thing},
             **in_file(thing, scale, level["height"], up, anchor)} for thing in level["things"]]  # fmt: skip
    whole = {"width": level["width"] / scale, "height": level["height"] / scale}
    if form == "json":
        return json.dumps({**whole, "things": rows}).encode()
    if form == "xml":
        inside = "".join(
            f"<thing {' '.join(f'{key}={quoteattr(str(v))}' for key, v in row.items())}/>\n" for row in rows
        )
        return f'<map width="{whole["width"]}" height="{whole["height"]}">\n{inside}</map>'.encode()
    lines = [f"size {whole['width']} {whole['height']}"]
    for row in rows:
        to = row.get("level") or row.get("gains") or "-"
        lines.append(f"{row['kind']} [{row.get('id', '')}] {row['x']} {row['y']} {row['width']} {row['height']} {to}")
    return "\n".join(lines).encode()


def reader_tree(form, scale=1.0, up=False, anchor="corner", files=None, **more):
    """The plain values of a reader for such files."""
    box = ("x", "y", "width", "height")
    extra = {"exit": {"level": "level"}, "deed": {"gains": "gains"}, "spawn": {}, "solid": {}}

    def each(kind):
        word = KINDS[kind]
        if form == "xml":
            return f"//thing[@kind='{word}']"
        if form == "json":
            return f"$.things[?@.kind == '{word}']"
        number = " ".join(rf"(?P<{key}>\S+)" for key in box)
        return rf"^{word} \[(?P<id>[^\]]*)\] {number} (?P<level>(?P<gains>.+))$"

    def value(key):
        return {"xml": f"@{key}", "json": f"$.{key}", "text": key}[form]

    plan = {"xml": "/map", "json": "$", "text": r"^size (?P<width>\S+) (?P<height>\S+)"}[form]
    rules = [{"makes": "plan", "each": plan, "take": {key: value(key) for key in ("width", "height")}}]
    for kind in KINDS:
        keys = [*(() if kind == "solid" else ("id",)), *box, *extra[kind]]
        rules.append({"makes": kind, "each": each(kind), "anchor": anchor, "complete": True,
                      "take": {key: value(key) for key in keys}})  # fmt: skip
    return {"id": "maps", "name": "Marsh maps", "files": files or f"levels/*.{ENDINGS[form]}", "form": form,
            "scale": scale, "y": "up" if up else "down", "rules": rules, **more}  # fmt: skip


def reader(form, **more):
    """The reader itself."""
    return flow_from_tree({"mossy_bridge": 1, "readers": [reader_tree(form, **more)]}).readers[0]


def random_levels(seed, count):
    """Levels whose exits lead to one another, by number."""
    pick = random.Random(seed)
    names = [f"hall_{number}" for number in range(1, count + 1)]
    return {name: random_level(pick, names) for name in names}
