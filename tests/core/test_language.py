"""Messages: their form, what is put into them, and the language that they are said in."""

import numpy as np
import pytest

from core.language import ENGLISH, Catalogue, decimal, message, number, say, speaking, spoken, worded
from core.language.messages import BadMessage, Choice, Counted, Put, parts_of

GERMAN = Catalogue(
    "de",
    {
        "{n, plural, one {# code} other {# codes}} under {name}": "{n, plural, one {# Code} other {# Codes}} unter {name}",
        "step\u0004Code": "Codieren",
        "{count} of {base}": "{count} von {base}",
    },
    decimal=",",
    thousands=".",
)
POLISH = Catalogue(
    "pl",
    {
        "{n, plural, one {# code} other {# codes}}": "{n, plural, one {# kod} few {# kody} many {# kodów} other {# kodu}}"
    },
    # CLDR: one for 1, few for 2 to 4 (not 12 to 14), many for the rest of the whole numbers.
    lambda n: "one" if n == 1 else "few" if n % 10 in (2, 3, 4) and n % 100 not in (12, 13, 14) else "many",
)


def test_a_message_in_its_parts():
    assert parts_of("Nothing to put") == ("Nothing to put",)
    assert parts_of("{a}{n, number}") == (Put("a"), Put("n", "number"))
    assert parts_of("{n, plural, =0 {none} one {# of {a}} other {#}}!") == (
        Choice("n", "plural", {"=0": ("none",), "one": (Counted(), " of ", Put("a")), "other": (Counted(),)}),
        "!",
    )
    # A # is a number only where something is counted.
    assert parts_of("# {w, select, cat {#} other {}}") == ("# ", Choice("w", "select", {"cat": ("#",), "other": ()}))


@pytest.mark.parametrize(
    "text", ["{a", "a}", "{n, plural, one {#}}", "{n, plural, one {# other {#}}", "{when, date}", "{n, plural}"]
)
def test_what_isnt_in_the_form_is_no_message(text: str):
    with pytest.raises(BadMessage):
        parts_of(text)


def test_values_are_put_in():
    assert say("{n, plural, =0 {none} one {# code} other {# codes}}", n=0) == "none"
    assert say("{n, plural, one {# code} other {# codes}}", n=1) == "1 code"
    assert say("{n, plural, one {# code} other {# codes}}", n=np.int64(1214)) == "1,214 codes"
    assert say("{which, select, a {first} other {another}}", which="b") == "another"
    assert say("{n, number} of {m}", n=12345.5, m=12345) == "12,345.5 of 12345"
    with pytest.raises(BadMessage, match="name isn't among"):
        say("{name}")
    with pytest.raises(BadMessage, match="has to be a number"):
        say("{n, number}", n="many")


def test_values_arent_messages_themselves():
    assert say("Called {name}", name="{n, plural, other {#}} {oops}") == "Called {n, plural, other {#}} {oops}"


def test_what_is_said_is_in_the_language_that_is_spoken_and_only_so_long():
    with speaking(GERMAN):
        assert spoken() is GERMAN
        assert say("{n, plural, one {# code} other {# codes}} under {name}", n=1214, name="X") == "1.214 Codes unter X"
        assert (say("Code", meaning="step"), say("Code"), say("Memo")) == ("Codieren", "Code", "Memo")
        assert (number(12345.5), decimal(1.6, 2), worded("{count} of {base}")) == (
            "12.345,5",
            "1,60",
            "{count} von {base}",
        )
        with speaking(ENGLISH):
            assert decimal(1.6, 2) == "1.60"
        assert decimal(1.6, 2) == "1,60"
    assert spoken() is ENGLISH
    assert (number(12345), decimal(0.5, 1), worded("{count} of {base}")) == ("12,345", "0.5", "{count} of {base}")
    assert message("said later") == "said later"


def test_languages_with_more_forms_of_many():
    with speaking(POLISH):
        said = [say("{n, plural, one {# code} other {# codes}}", n=n) for n in (1, 2, 5, 12, 22)]
    assert said == ["1 kod", "2 kody", "5 kodów", "12 kodów", "22 kody"]


def test_a_language_is_left_even_when_what_is_said_in_it_fails():
    with pytest.raises(BadMessage), speaking(GERMAN):
        say("{name}")
    assert spoken() is ENGLISH
