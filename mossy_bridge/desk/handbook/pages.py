"""The pages of the handbook: those written in ``docs/handbook``, and those made of the checks' own words and of the
table of actions. No widget."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import mossy_bridge
from mossy_bridge.checks.explanations import explained
from mossy_bridge.checks.finding import CHAPTERS, Chapter, check_words
from mossy_bridge.checks.registry import CHECKS
from mossy_bridge.desk.shell.actions import Action


def _documents() -> Path:
    """The folder of the documents: an installed package has them inside, a checkout beside it."""
    package = Path(mossy_bridge.__file__).parent
    inside = package / "docs"
    return inside if inside.is_dir() else package.parent / "docs"


FOLDER = _documents() / "handbook"
FIRST, CONTENTS, KEYS = "first-hour", "contents", "keys"
GROUPS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("Begin", ("first-hour", "words", "conditions")),
    ("The window", ("strip", "map", "bench", "plan", "survey", "trial-walk")),
    ("Faces", ("arrivals", "boards", "facts", "transitions", "tour", "pace", "play-tests", "checklist", "for-testing",
               "level-files", "versions", "patterns", "game")),
    ("Recipes", ("recipe-hub", "recipe-linear", "recipe-worlds", "recipe-lives", "recipe-again")),
    ("Reference", ("file", "readers", "tables", "for-programmers", "settings")),
)  # fmt: skip
"""The written pages in their order."""
SEVERITY_WORDS = {"error": "broken", "warning": "suspicious", "hint": "worth knowing"}
MOST_FOUND = 40


@dataclass(frozen=True)
class Page:
    """One page: its name, its title, and its Markdown."""

    name: str
    title: str
    text: str


@dataclass(frozen=True)
class HandbookMatch:
    """A section that was searched for: its page, its heading, and where the words stand in it."""

    page: Page
    heading: str
    words: str


def handbook(actions: Sequence[Action]) -> dict[str, Page]:
    """All pages by name, in their order, the contents first."""
    written = [_written(name) for _, names in GROUPS for name in names]
    pages = [*written, *map(_chapter, CHAPTERS), _keys(actions)]
    found = {page.name: page for page in pages}
    return {CONTENTS: _contents(found), **found}


@cache
def _written(name: str) -> Page:
    try:
        text = (FOLDER / f"{name}.md").read_text("utf-8")
    except OSError:
        text = f"# {name.replace('-', ' ').capitalize()}\n\nThis page is not there: {FOLDER / name}.md cannot be read."
    return Page(name, text.partition("\n")[0].lstrip("# "), text)


def check_page(slug: str) -> tuple[str, str]:
    """The page on a check, and its heading there."""
    return _page_of(CHECKS[slug].chapter), check_words(slug)


@cache
def _page_of(chapter: Chapter) -> str:
    """The name of a chapter's page."""
    return f"checks-{chapter.replace(' ', '-')}"


def _chapter(chapter: Chapter) -> Page:
    """A chapter of the checks."""
    title = f"Checks: {chapter}"
    parts = [f"# {title}"]
    for check in CHECKS.values():
        if check.chapter == chapter:
            said = explained(check)
            parts.append(
                f"## {check_words(check.slug)}\n\n`{check.slug}`, {SEVERITY_WORDS[check.severity]}. {said.meaning}\n\n"
                f"*Why it matters:* {check.why}\n\n*For example:* {said.example}\n\n*To mend it:* {said.mend}"
            )
    return Page(_page_of(chapter), title, "\n\n".join(parts))


def _keys(actions: Sequence[Action]) -> Page:
    """Every action and its key, menu by menu."""
    parts = ["# Keys", "Any action can be found by its name, too: `Ctrl+Space`."]
    for menu in dict.fromkeys(action.menu for action in actions):
        rows = [f"| `{one.keys}` | {_plain(one.words)} | {one.tip} |" for one in actions if one.menu == menu]
        parts.append(f"## {menu.replace('&', '')}\n\n| key | action | |\n|---|---|---|\n" + "\n".join(rows))
    return Page(KEYS, "Keys", "\n\n".join([*parts, _OTHER_KEYS]))


def _plain(words: str) -> str:
    """Words that may hold what users have written, so that nothing of it is taken for markup."""
    return re.sub(r"([\\`*_\[\]<>|])", r"\\\1", words)


_OTHER_KEYS = """## In the views

| key | where | does |
|---|---|---|
| arrow keys, `Enter` | map | step over the cards; lay out the plan |
| arrow keys, `Home`, `End` | order strip | step over the levels, with `Shift` choosing all between |
| `+`, `-` | order strip | draw beads apart, or together |
| `1` to `5` | plan | choose; draw an exit, spawn point, deed or solid |
| arrow keys | plan | nudge, with `Shift` finer |
| `1` to `9`, `Backspace` | trial walk | take a move; step back |
| arrow keys, `Enter` | survey | step over the findings; show the place; open a group |
| `Enter`, `Space` | a blank | open it |
| `Esc` | anywhere | leave what is open or under way |
"""


def _contents(pages: dict[str, Page]) -> Page:
    parts = ["# Handbook"]
    groups = [*GROUPS[:-1], ("Checks", tuple(map(_page_of, CHAPTERS))),
              (GROUPS[-1][0], (*GROUPS[-1][1], KEYS))]  # fmt: skip
    for title, names in groups:
        lines = [f"* [{pages[name].title}]({name}.md)" for name in names]
        parts.append(f"## {title}\n\n" + "\n".join(lines))
    return Page(CONTENTS, "Contents", "\n\n".join(parts))


def sections(page: Page) -> Iterator[tuple[str, str]]:
    """The sections of a page: heading and text."""
    parts = re.split(r"^#+ (.*)$", page.text, flags=re.MULTILINE)
    yield from zip(parts[1::2], parts[2::2], strict=True)


def searched(pages: Sequence[Page], text: str) -> list[HandbookMatch]:
    """The sections in which all the words stand, those with the words in their heading first."""
    wanted = text.casefold().split()
    found: list[tuple[bool, HandbookMatch]] = []
    for page in pages if wanted else ():
        for heading, body in sections(page):
            said = f"{heading} {body}".casefold()
            if page.name != CONTENTS and all(word in said for word in wanted):
                in_heading = all(word in heading.casefold() for word in wanted)
                found.append((not in_heading, HandbookMatch(page, heading, _around(body, wanted[0]))))
    return [one for _, one in sorted(found, key=lambda pair: pair[0])][:MOST_FOUND]


def _around(body: str, word: str) -> str:
    """What stands around a word, as plain as it goes."""
    plain = " ".join(re.sub(r"!?\[([^\]]*)\]\([^)]*\)|[*`#|]", r"\1", body).split())
    at = max(0, plain.casefold().find(word) - 30)
    return f"{'…' if at else ''}{plain[at : at + 90]}"
