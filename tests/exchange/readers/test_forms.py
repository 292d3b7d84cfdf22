"""What expressions find in XML, JSON and text, and what is said of damaged files."""

import unittest

from mossy_bridge.exchange.readers.expressions import parsed, wrong_expressions
from mossy_bridge.exchange.readers.forms import Damaged, WrongExpression

XML = b"""<map w="64" xmlns="urn:marsh" xmlns:q="urn:q">
 <thing kind="gate" x="3"><q:p k="to">sands</q:p></thing>
 <thing kind="start" x="4"/>
</map>"""
JSON = b'{"size": [64, 18],\n "things": [{"kind": "gate", "x": 3, "shut": true},\n  {"kind": "start", "note": null}]}'
TEXT = b"gate 3 4 to sands\r\nstart 5 6\nnote\n  gate is open\n"


def found(form, data, each, *takes):
    document = parsed(form, data)
    return [tuple(document.taken(thing, take) for take in takes) for thing in document.things(each)]


class Forms(unittest.TestCase):
    def test_things_and_what_is_taken_of_them(self):
        for label, given, wanted in (
            ("attributes", ("xml", XML, "//d:thing[@kind='gate']", "@x", "@none", "q:p/@k"), [("3", None, "to")]),
            ("text of an element", ("xml", XML, "//d:thing", "q:p"), [("sands",), (None,)]),
            ("numbers and truths", ("xml", XML, "/d:map", "count(d:thing)", "@w > 60"), [("2", "true")]),
            ("nothing", ("xml", XML, "//thing", "@x"), []),
            ("fields", ("json", JSON, "$.things[?@.kind == 'gate']", "$.x", "$.shut", "$.y"), [("3", "true", None)]),
            ("the thing itself", ("json", JSON, "$.size[*]", "$"), [("64",), ("18",)]),
            ("null", ("json", JSON, "$.things[1]", "$.note"), [("",)]),
            ("groups", ("text", TEXT, r"^gate (?P<x>\d+).*to (?P<to>\w+)$", "x", "to"), [("3", "sands")]),
            ("a group that took no part", ("text", TEXT, r"^\w+ \d+ (?P<y>\d+)( to (?P<to>\w+))?", "y", "to"),
             [("4", "sands"), ("6", None)]),
            ("over lines", ("text", TEXT, r"(?s)^note\n +(?P<is>.*?)$", "is"), [("gate is open",)]),
        ):  # fmt: skip
            with self.subTest(label):
                self.assertEqual(found(*given), wanted)

    def test_places(self):
        for form, data, each, places in (
            ("xml", XML, "//d:thing", [(2, 0), (3, 0)]),
            ("json", JSON, "$.things[*]", [(2, 13), (3, 3)]),
            ("json", JSON, "$..kind", [(2, 22), (3, 12)]),
            ("text", TEXT, r"\d+ \d", [(1, 6), (2, 7)]),
            ("text", TEXT, r"(?s)open", [(4, 11)]),
        ):
            with self.subTest(each):
                document = parsed(form, data)
                self.assertEqual([document.place(thing) for thing in document.things(each)], places)

    def test_damaged_files(self):
        deep = b"<a>" * 300 + b"</a>" * 300
        bomb = b'<!DOCTYPE a [<!ENTITY b "bb"><!ENTITY c "&b;&b;&b;">]><a>&c;</a>'
        for label, form, data, line, says in (
            ("empty", "xml", b"", 1, "no well-formed XML"),
            ("cut off", "xml", b"<map>\n<thing>", 2, "premature end"),
            ("deep", "xml", deep, 1, "excessive depth"),
            ("a bomb", "xml", bomb, 1, "declares entities"),
            (
                "a file from elsewhere",
                "xml",
                b'<!DOCTYPE a [<!ENTITY b SYSTEM "/etc/passwd">]><a>&b;</a>',
                1,
                "entities",
            ),
            ("cut off", "json", b'{"a": [1,\n', 2, "no valid JSON"),
            ("deep", "json", b"[" * 100_000, 0, "nested too deeply"),
            ("a long number", "json", b'{"a": 1' + b"1" * 5_000 + b"}", 0, "too long"),
            ("binary", "text", b"\0\1\2", 0, "binary"),
            ("another encoding", "text", "gate\nTür".encode("latin-1"), 2, "not UTF-8"),
            ("another encoding", "json", '{"a": "ü"}'.encode("latin-1"), 1, "not UTF-8"),
        ):
            with self.subTest(f"{form}: {label}"):
                with self.assertRaises(Damaged) as caught:
                    parsed(form, data)
                self.assertIn(says, str(caught.exception))
                self.assertEqual(caught.exception.line, line)

    def test_a_document_type_without_entities_is_passed_over(self):
        data = b'<!DOCTYPE map SYSTEM "nowhere.dtd" [<!ELEMENT map ANY>]><map w="3"/>'
        self.assertEqual(found("xml", data, "/map", "@w"), [("3",)])

    def test_expressions_that_fail_on_a_file(self):
        for form, data, each, says in (
            ("xml", XML, "//z:thing", "the file declares d, q"),
            ("xml", XML, "//@x", "not elements"),
            ("xml", XML, "count(//d:thing)", "finds a number"),
            ("xml", XML, "//d:thing[no-such()]", "fails here"),
        ):
            with self.subTest(each), self.assertRaises(WrongExpression) as caught:
                list(parsed(form, data).things(each))
            self.assertIn(says, str(caught.exception))

    def test_a_regular_expression_that_runs_away_is_given_up(self):
        with self.assertRaises(WrongExpression) as caught:
            list(parsed("text", b"a" * 60 + b"!").things(r"^(a|aa|a?a)+$"))
        self.assertIn("takes over 2 seconds", str(caught.exception))

    def test_expressions_that_do_not_parse(self):
        for form, each, take, wanted in (
            ("xml", "//a[", {}, {"each": "no XPath 1.0"}),
            ("xml", "//a", {"x": "@", "y": "=@", "name": "@n"}, {"take.x": "no XPath 1.0"}),
            ("xml", "//z:a", {"x": "z:b"}, {}),
            ("json", "things", {}, {"each": "no JSONPath"}),
            ("json", "$.things[*]", {"x": "$["}, {"take.x": "no JSONPath"}),
            ("text", "(a", {}, {"each": "no regular expression"}),
            ("text", "(?P<x>a)", {"x": "x", "y": "y"}, {"take.y": "no named group"}),
        ):
            with self.subTest(f"{form}: {each}"):
                said = dict(wrong_expressions(form, {"each": each, "take": take}))
                self.assertEqual(said.keys(), wanted.keys())
                for field, words in wanted.items():
                    self.assertIn(words, said[field])


if __name__ == "__main__":
    unittest.main()
