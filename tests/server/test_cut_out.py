"""Passages that are regions leave with their part of the picture, from pictures and from pages."""

import io
from pathlib import Path

import docx
import openpyxl
import pytest
from PIL import Image

from core.coding.places import Region
from server.coding import actions as coding
from server.coding import cut_out
from server.coding.models import Code, Passage
from server.gather import media
from server.gather.models import Document, Medium, Speaker
from server.people.models import Case
from tests.server.conftest import bring_in

MATERIAL = Path(__file__).resolve().parents[2] / "demo" / "material"
RED, BLUE = (200, 30, 30), (30, 30, 200)


@pytest.fixture
def drawn(world, tmp_path):
    """A drawing of P1, red on the left and blue on the right, with a region on either side."""
    row = Document.objects.create(project=world.project, title="Drawing", kind="image", text="", length=0, words=0)
    Speaker.objects.create(
        document=row, label="Whole document", role="participant", case=Case.objects.get(identifier="P1")
    )
    image = Image.new("RGB", (400, 200), RED)
    image.paste(BLUE, (200, 0, 400, 200))
    file = tmp_path / "drawing.webp"
    image.save(file, "WEBP", lossless=True)
    digest = media.keep(file)
    Medium.objects.create(
        document=row, role="picture", number=1, digest=digest, content_type="image/webp", width=400, height=200
    )
    late = Code.objects.get(name="Late").pk
    for left, right in ((0, 4000), (6000, 10_000)):
        coding.put_codes(world.owner, row.pk, Region(1, left, 0, right, 10_000), [late])
    world.drawing = row
    return world


def images_in(book):
    return {image.anchor._from.row: Image.open(io.BytesIO(image._data())) for image in book.active._images}


def near(image, colour):
    return all(abs(a - b) < 12 for a, b in zip(image.convert("RGB").getpixel((5, 5)), colour, strict=True))


def ask(world, ending):
    crosses = world.project.variables.get(name="Crosses").pk
    body = {"codes": [Code.objects.get(name="Late").pk], "variable": crosses, "format": ending, "what": "passages"}
    answer = world.client(world.viewer.account).post(world.url("/compare/export"), body, format="json")
    assert answer.status_code == 200, answer.content
    return answer.content


def test_a_sheet_shows_each_region_beside_what_it_is(drawn):
    book = openpyxl.load_workbook(io.BytesIO(ask(drawn, "xlsx")))
    found = images_in(book)
    lines = {row[0].row - 1: [cell.value for cell in row] for row in book.active.iter_rows()}
    assert all("a region of the picture" in lines[line] for line in found)
    left, right = (found[line] for line in sorted(found))
    assert (left.size, right.size) == ((160, 200), (160, 200))
    assert near(left, RED)
    assert near(right, BLUE)


def test_a_text_shows_them_with_words_for_who_cannot_see(drawn):
    document = docx.Document(io.BytesIO(ask(drawn, "docx")))
    assert [shape._inline.docPr.get("descr") for shape in document.inline_shapes] == ["a region of the picture"] * 2
    assert all(shape.width <= docx.shared.Inches(4) for shape in document.inline_shapes)


def test_a_page_of_a_pdf_is_drawn_first(world):
    bring_in(world.owner, ("notice.pdf", (MATERIAL / "Operator_notice.pdf").read_bytes()))
    row = Document.objects.get(kind="pdf", project=world.project)
    put = coding.put_codes(world.owner, row.pk, Region(1, 0, 0, 5000, 2500), [Code.objects.get(name="Late").pk])
    found = cut_out.cut_out(world.owner, [put.passage])
    wide, high = Image.open(io.BytesIO(found[put.passage.pk])).size
    assert wide > high > 100


def test_a_lost_or_damaged_picture_leaves_its_words_behind(drawn):
    medium = Medium.objects.get(document=drawn.drawing)
    media.path_of(medium.digest).write_bytes(b"no picture at all")
    regions = list(Passage.objects.filter(document=drawn.drawing).select_related("document"))
    assert cut_out.cut_out(drawn.owner, regions) == {}
    assert openpyxl.load_workbook(io.BytesIO(ask(drawn, "xlsx"))).active.max_row > 3
    media.path_of(medium.digest).unlink()
    assert cut_out.cut_out(drawn.owner, regions) == {}
