"""Which expressions of readers are right: those taken to be right unasked are so to the libraries too."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from mossy_bridge.exchange.readers.expressions import PLAIN, check_each
from mossy_bridge.exchange.readers.forms import WrongExpression
from mossy_bridge.exchange.readers.json_form import query
from mossy_bridge.exchange.readers.xml_form import check_path


class PlainExpressions(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.from_regex(PLAIN["xml"], fullmatch=True))
    def test_a_plain_path_is_a_path(self, expression):
        check_path(expression)

    @settings(max_examples=60, deadline=None)
    @given(st.from_regex(PLAIN["json"], fullmatch=True))
    def test_a_plain_query_is_a_query(self, expression):
        query(expression)

    def test_what_is_not_plain_is_asked_of_the_library(self):
        for form, expression in (("xml", "//thing["), ("xml", "//thing[@a='b"), ("xml", "//"), ("json", "$.things[01]"),
                                 ("json", "things"), ("json", "$.things[?@.a = 'b']"), ("text", "(a")):  # fmt: skip
            with self.subTest(expression), self.assertRaises(WrongExpression):
                check_each(form, expression)


if __name__ == "__main__":
    unittest.main()
