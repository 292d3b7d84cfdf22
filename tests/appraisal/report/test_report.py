"""What stands in a report, and that its page is sound and refers to nothing outside."""

import re
import unittest
from html.parser import HTMLParser
from xml.etree import ElementTree

from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.appraisal.report.contents import report_of
from mossy_bridge.appraisal.report.drawing import plan_svg, transitions_svg
from mossy_bridge.appraisal.report.html import inlined, report_html
from tests.support.build import board, deed, fact, flow, play_level, screen, way

PLAN = {"width": 20, "height": 10, "solids": [[0, 8, 20, 2]]}
EVIL = '<script>alert(1)</script> & "Fen"'


def marsh(**more):
    return flow(
        screen("title", way("new", "a", fresh=True)),
        play_level("a", way("on", "b", name="East gate", area=[18, 5, 2, 3], opens="has key", transition="fade", completes=True, trigger={"kind": "touch"}),
                   deeds=[deed("dig", "gain key", name="Dig")], name="Fen", code="1-1", plan=PLAN, minutes=3),
        play_level("b", way("light", "won")), board("map", {"id": "t", "level": "a"}), play_level("lost", name="Lost"),
        facts=[fact("key", name="Brass key")], transitions=[{"id": "fade", "steps": [{"do": "fade_out", "lasts": 2}]}],
        promises=[{"id": "p", "kind": "never", "level": "b", "when": "lacks key"}], **more,
    )  # fmt: skip


def report(flow_, **more):
    return report_of(appraise(flow_, budget=default_budget(flow_)), **more)


class Page(HTMLParser):
    """Notes what is open at the end, what closes wrongly, and every place that a page leads to."""

    VOID = frozenset(["meta", "br", "img", "link", "input", "hr"])

    def __init__(self, text):
        super().__init__()
        self.open, self.wrong, self.leads, self.ids, self.tags, self.words = [], [], [], [], [], []
        self.feed(text)

    def handle_starttag(self, tag, attributes):
        self.tags.append(tag)
        self.open += [tag] if tag not in self.VOID else []
        for name, value in attributes:
            if name in ("href", "src", "xlink:href", "action"):
                self.leads.append(value)
            if name == "id":
                self.ids.append(value)

    def handle_startendtag(self, tag, attributes):
        self.handle_starttag(tag, attributes)
        if tag not in self.VOID:
            self.open.pop()

    def handle_endtag(self, tag):
        if not self.open or self.open.pop() != tag:
            self.wrong.append(tag)

    def handle_data(self, data):
        self.words.append(data)


class Contents(unittest.TestCase):
    def test_levels_in_words(self):
        levels = {one.level.id: one for one in report(marsh()).levels}
        fen = levels["a"]
        self.assertEqual((fen.title, fen.reached), ("1-1 Fen", "reached after 1 crossing"))
        self.assertIn("from title by new, at p", fen.ways_in)
        self.assertEqual(
            fen.ways_out, ("East gate: walking into it; provided has Brass key; completes the level; fade, 2 s → b",)
        )
        self.assertEqual(fen.deeds, ("Dig: gain Brass key; once a run",))
        self.assertEqual(levels["lost"].reached, "never reached")
        self.assertTrue(any("never reached" in one.message for one in levels["lost"].findings))
        self.assertEqual(levels["b"].ways_out, ("light: choosing it → the ending won",))

    def test_the_whole_flow_in_words(self):
        found = report(marsh())
        self.assertEqual([(fact.name, dict(fact.uses)["gained"]) for fact in found.facts], [("Brass key", "1-1 Fen")])
        self.assertEqual([(one.name, one.used) for one in found.transitions], [("fade", 1)])
        self.assertEqual([(one.title, one.tiles) for one in found.boards], [("map", ("1-1 Fen",))])
        self.assertEqual(found.promises, (("the player never reaches b with “lacks Brass key”", "kept"),))
        self.assertEqual([one.name for one in found.walks], ["shortest to won", "fullest"])
        self.assertTrue(found.tour and found.tour[0].do == "title: new")


class Html(unittest.TestCase):
    def page(self, flow_, **more):
        text = report_html(
            report(flow_, **more), '<?xml version="1.0"?>\n<svg width="9mm" height="9mm" viewBox="0 0 9 9"></svg>'
        )
        page = Page(text)
        self.assertEqual((page.open, page.wrong), ([], []))
        self.assertNotIn("script", page.tags)
        self.assertIn("default-src 'none'", text)
        self.assertTrue(all(lead.startswith("#") and lead[1:] in page.ids for lead in page.leads), page.leads)
        return page, text

    def test_sound_small_and_large(self):
        small, _ = self.page(marsh())
        self.assertNotIn("Contents", small.words)
        large, _ = self.page(
            flow(*(play_level(f"l{n}", way("on", f"l{n + 1}" if n < 30 else "won")) for n in range(31)))
        )
        self.assertIn("Contents", large.words)
        self.assertIn("#level-l30", large.leads)

    def test_names_are_text_and_nothing_else(self):
        page, text = self.page(
            flow(play_level("a", way("on", "won", name=EVIL), name=EVIL, notes=EVIL, plan=PLAN), title=EVIL)
        )
        self.assertNotIn("<script>alert", text)
        self.assertGreater(page.words.count(EVIL), 2)

    def test_what_has_changed_since(self):
        page, _ = self.page(marsh(), changes=["level Fen renamed to Bog"], since="last week")
        self.assertIn("Changes since last week", page.words)
        self.assertIn("level Fen renamed to Bog", page.words)
        self.assertIn("Nothing differs.", self.page(marsh(), since="last week")[0].words)

    def test_the_map_stands_in_the_page_as_wide_as_that(self):
        self.assertEqual(
            inlined('<?xml version="1.0"?>\n<svg width="9mm" height="9mm" viewBox="0 0 9 9"></svg>'),
            '<svg viewBox="0 0 9 9"></svg>',
        )


class Drawings(unittest.TestCase):
    def drawn(self, svg):
        return [element.tag.rpartition("}")[2] for element in ElementTree.fromstring(svg).iter()]

    def test_a_plan_with_its_things(self):
        level = marsh().level("a")
        for y_down in (True, False):
            tags = self.drawn(plan_svg(level, y_down))
            self.assertEqual((tags.count("rect"), tags.count("path"), tags.count("text")), (3, 2, 3))
        self.assertEqual(plan_svg(marsh().level("b"), True), "")

    def test_names_stay_within_and_apart(self):
        level = marsh().level("a")
        found = re.findall(r'<text x="([\d.]+)" y="([\d.]+)"[^>]*>([^<]*)<', plan_svg(level, True))
        for x, _, name in found:
            self.assertTrue(len(name) * 3.9 / 2 <= float(x) <= 340 - len(name) * 3.9 / 2, (name, x))

    def test_transitions_on_one_scale(self):
        self.assertIn("2 s, 1×", transitions_svg(report(marsh()).transitions))
        self.assertEqual(transitions_svg(()), "")


if __name__ == "__main__":
    unittest.main()
