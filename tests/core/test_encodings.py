"""Bytes are read in the encoding they were written in, or it is said that it isn't certain, and where they don't fit.

The sentences are made up here, one of a winter's waiting in each language; encodings are Python's own.
"""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.text.encodings import DOUBLE, NAMES, BadByte, NotText, decode, in_words

SAID = {
    "cs": "Jak se máte? Příliš žluťoučký kůň úpěl ďábelské ódy. Řekla jsem to lékaři.",
    "pl": "Statek znów się spóźnił, czekaliśmy na nabrzeżu. Źle, żółć, łódź.",
    "hu": "A hajó megint késett, és a mólón vártunk. Nagyon fáztunk, senki nem kérdezett bennünket. Őszintén szólva dühös voltam.",
    "ro": "Vaporul a întârziat din nou și am așteptat pe chei.".replace("ș", "ş").replace("ț", "ţ"),
    "hr": "Brod je opet kasnio, čekali smo na pristaništu. Nitko nas nije pitao što želimo.",
    "ru": "Как дела? Паром опять опоздал, и мы ждали на причале до вечера. НИКТО нас не спросил.",
    "uk": "Паром знову запізнився, і ми чекали на причалі. Ніхто нас не питав, її теж.",
    "bg": "Корабът пак закъсня и чакахме на кея. Никой не ни попита.",
    "el": "Πώς ήταν; Το πλοίο άργησε πάλι και περιμέναμε στην αποβάθρα.",
    "tr": "Nasıldı? Gemi yine gecikti, iskelede bekledik ve üşüdük. Işık yoktu, şaşırdım.",
    "de": "Wie war’s? Die Fähre war schon wieder zu spät – „fürchterlich“, sagte Jörg. Große Straße.",
    "fr": "Le bateau était encore en retard, nous avons attendu à l’embarcadère. « Où êtes-vous ? » Ça m’a gêné.",
    "es": "¿Cómo fue? El barco llegó tarde otra vez y esperamos. ¡Qué frío! Mañana será otro día.",
    "pt": "O barco atrasou-se outra vez e esperámos. Não foi fácil, não há ligações.",
    "it": "La nave è arrivata tardi. Perché? Così è la città, già.",
    "sv": "Båten var sen igen och vi väntade på bryggan. Ingen frågade oss någonting, så är det.",
    "da": "Færgen var forsinket igen, og vi ventede på kajen. Ingen spurgte os, så længe det går.",
    "is": "Báturinn var seinn aftur og við biðum á bryggjunni. Þetta er það sem ég hélt.",
    "fi": "Laiva oli taas myöhässä ja odotimme laiturilla. Kukaan ei kysynyt meiltä mitään.",
    "he": "איך היה? הסירה איחרה שוב וחיכינו על הרציף.",
    "ar": "كيف كان؟ تأخر القارب مرة أخرى وانتظرنا على الرصيف.",
    "lt": "Keltas vėl vėlavo, mes laukėme krantinėje. Šaltas žiemos vakaras, ąčęėįšųū.",
    "lv": "Prāmis atkal kavējās, un mēs gaidījām piestātnē. Neviens mums neko nejautāja, ļoti žēl.",
    "et": "Laev hilines jälle ja me ootasime kail. Keegi ei küsinud, öö oli külm, õhtu ka.",
    "ja": "冬はどうでしたか。船はまた遅れて、私たちは桟橋で待っていました。",
    "zh": "冬天怎么样?船又晚了,我们在码头等了很久,没有人问我们。",
    "tw": "冬天怎麼樣?船又晚了,我們在碼頭等了很久,沒有人問我們。",
    "ko": "겨울은 어땠나요? 배가 또 늦어서 우리는 부두에서 기다렸습니다.",
}

WRITTEN = {
    "cs": ["cp1250", "iso8859-2"],
    "pl": ["cp1250", "iso8859-2"],
    "hu": ["cp1250", "iso8859-2", "cp852"],
    "ro": ["cp1250"],
    "hr": ["cp1250"],
    "ru": ["cp1251", "koi8-r", "cp866", "iso8859-5"],
    "uk": ["cp1251", "koi8-u"],
    "bg": ["cp1251"],
    "el": ["cp1253"],
    "tr": ["cp1254"],
    "he": ["cp1255"],
    "ar": ["cp1256"],
    "lt": ["cp1257"],
    "lv": ["cp1257"],
    "et": ["cp1257"],
    "ja": ["cp932", "euc-jp"],
    "zh": ["gb18030"],
    "tw": ["big5"],
    "ko": ["cp949"],
}


def cases():
    return [(language, encoding) for language in SAID for encoding in WRITTEN.get(language, ["cp1252"])]


@pytest.mark.parametrize(("language", "encoding"), cases())
def test_each_language_is_read_in_what_it_is_written_in(language, encoding):
    text = f"P1: {SAID[language]}\nInterviewer: And then?\n"
    found = decode(text.encode(encoding))
    assert found.text == text, found.words
    assert not found.bad
    assert encoding in (found.encoding, *found.others)


@pytest.mark.parametrize("language", SAID)
def test_utf_8_is_sure_in_any_language(language):
    found = decode(SAID[language].encode())
    assert (found.text, found.encoding, found.sure, found.bad) == (SAID[language], "utf-8", True, 0)


@pytest.mark.parametrize(("language", "encoding"), [case for case in cases() if len(SAID[case[0]]) > 40])
def test_as_many_as_may_be_are_sure(language, encoding):
    """Of whole interviews nearly all are: a few sentences of two languages look like two encodings."""
    found = decode("\n".join([SAID[language]] * 20).encode(encoding))
    assert found.sure or language in ("ru", "it", "sv", "de", "hu", "he"), found.others[:2]


@settings(max_examples=200)
@given(st.binary(max_size=300))
def test_any_bytes_are_text_or_said_not_to_be(data):
    try:
        found = decode(data)
    except NotText:
        return
    assert found.encoding
    assert found.bad >= min(1, len(found.where))
    assert found.text.count("\ufffd") >= bool(found.bad)
    for other in found.others:
        assert isinstance(decode(data, other).text, str)


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-32", "cp1252", "latin-1"])
def test_encodings_are_found(encoding):
    text = (
        "P1: Grüße, café.\nI: Ja.\n" if encoding == "latin-1" else "I: Grüße aus Ærø, café – schön.\nP1: Ja, “genau”.\n"
    )
    assert decode(text.encode(encoding)).text.lstrip("\ufeff") == text


def test_one_bad_byte_doesn_t_turn_a_text_into_another():
    """A byte pasted in from elsewhere once made a whole text of UTF-8 be read as if each letter were two."""
    good = "P1: naïve café, schön, über alles Öde\n"
    found = decode((good * 3).encode() + b"P2: so \x96 late\n" + good.encode())
    assert (found.encoding, found.sure, found.bad) == ("utf-8", False, 1)
    assert found.where == (BadByte(4, 8, 0x96),)
    assert found.text == f"{good * 3}P2: so \ufffd late\n{good}"
    assert "cp1252" in found.others
    assert decode(b"P2: so \x96 late\n", "cp1252").text == "P2: so – late\n"


def test_bytes_that_don_t_fit_are_counted_and_the_first_of_them_placed():
    found = decode("é".encode() * 30_000 + b"\n" + b"\xff" * 2000)
    assert (found.bad, len(found.where), found.where[1]) == (2000, 20, BadByte(2, 2, 0xFF))


def test_a_text_may_be_read_as_somebody_says():
    data = SAID["ru"].encode("koi8-r")
    assert decode(data, "koi8-r").text == SAID["ru"]
    assert decode(data, "utf-8").bad > 20
    assert {in_words(one) for one in ("cp1251", "cp932", "utf-8")} == {
        "cp1251 (Cyrillic)",
        "Shift-JIS (Japanese)",
        "utf-8",
    }
    assert set(DOUBLE) < set(NAMES)


def test_pictures_and_programs_aren_t_text():
    for data in (b"\x00\x01\x02\x03" * 50, bytes(range(1, 9)) * 40 + b"\xff"):
        with pytest.raises(NotText):
            decode(data)
