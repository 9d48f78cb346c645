"""Pictures, drawn anew: what they show stays, what they say about place and device goes."""

import warnings
from dataclasses import dataclass
from pathlib import Path

from PIL import ExifTags, Image, ImageOps, UnidentifiedImageError

from core.coding.places import FULL
from core.language import message, say, worded
from server.gather.readers.kinds import Unreadable

MAX_PIXELS = 120_000_000
MAX_SIDE = 4_000
MAX_PAGES = 200
THUMBNAIL = 240
CUT_OUT = 900
"""Points at most along a side of a region that is cut out."""
_TELLING = {
    "GPSInfo": message("the place"), "Make": message("the device"), "Model": message("the device"), "BodySerialNumber": message("the device"),
    "LensModel": message("the device"), "HostComputer": message("the device"), "Artist": message("its maker"), "XPAuthor": message("its maker"),
    "CameraOwnerName": message("its maker"), "Copyright": message("its maker"), "DateTime": message("the time"), "DateTimeOriginal": message("the time"),
    "ImageDescription": message("a description"), "UserComment": message("a comment"), "XPComment": message("a comment"),
}  # fmt: skip


@dataclass(frozen=True)
class Picture:
    number: int
    file: Path
    width: int
    height: int


def read_pictures(path: Path, out: Path) -> tuple[list[Picture], Picture, list[str]]:
    """Each page drawn anew into ``out``, a thumbnail of the first, and what was taken off, in words."""
    Image.MAX_IMAGE_PIXELS = None  # the size is looked at below, before anything is unpacked
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(path) as image:
                return _read(image, out)
    except UnidentifiedImageError as error:
        raise Unreadable(say("The picture is damaged: it can’t be opened.")) from error
    except (OSError, SyntaxError, ValueError, EOFError, TypeError, KeyError, OverflowError) as error:
        raise Unreadable(say("The picture is damaged or cut off: it can’t be drawn.")) from error


def _read(image: Image.Image, out: Path) -> tuple[list[Picture], Picture, list[str]]:
    width, height = image.size
    if width * height > MAX_PIXELS:
        raise Unreadable(
            say(
                "The picture has {width, number} × {height, number} points; up to {max_pixels} million are drawn. Save it smaller.",
                width=width,
                height=height,
                max_pixels=MAX_PIXELS // 1_000_000,
            )
        )
    removed = _telling(image)
    frames = getattr(image, "n_frames", 1)
    said = [say("Taken off the picture: {removed}.", removed=", ".join(removed))] if removed else []
    if image.format == "GIF":
        if frames > 1:
            said.append(say("The picture moves; its first frame is kept."))
        frames = 1
    if frames > MAX_PAGES:
        raise Unreadable(
            say(
                "The picture has {frames, number} pages; up to {max_pages} are drawn. Split it.",
                frames=frames,
                max_pages=MAX_PAGES,
            )
        )
    pictures = []
    for number in range(1, frames + 1):
        image.seek(number - 1)
        if image.size[0] * image.size[1] > MAX_PIXELS:
            raise Unreadable(say("Page {number} has more points than can be drawn. Save it smaller.", number=number))
        # Turned as the camera was held; the note that said so goes with the rest.
        drawn = ImageOps.exif_transpose(image).convert("RGBA" if _has_alpha(image) else "RGB")
        shrunk = max(drawn.size) > MAX_SIDE
        if shrunk:
            drawn.thumbnail((MAX_SIDE, MAX_SIDE))
            if number == 1:
                said.append(
                    say(
                        "Drawn smaller, {size, number} × {size2, number} points, so that it opens quickly.",
                        size=drawn.size[0],
                        size2=drawn.size[1],
                    )
                )
        file = out / f"picture-{number}.webp"
        drawn.save(file, "WEBP", quality=90)
        pictures.append(Picture(number, file, *drawn.size))
        if number == 1:
            small = drawn.copy()
            small.thumbnail((THUMBNAIL, THUMBNAIL))
            small.save(out / "thumbnail.webp", "WEBP", quality=80)
            thumbnail = Picture(1, out / "thumbnail.webp", *small.size)
    if frames > 1:
        said.append(say("{frames} pages.", frames=frames))
    return pictures, thumbnail, said


def cut_out(path: Path, regions: list[list[int]], out: Path) -> list[Path]:
    """Each region (left, top, right, bottom in ten-thousandths of the picture) as a picture of its own in ``out``."""
    Image.MAX_IMAGE_PIXELS = MAX_PIXELS
    made = []
    try:
        with Image.open(path) as image:
            drawn = image.convert("RGB")
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise Unreadable(say("The picture is damaged: it can’t be opened.")) from error
    wide, high = drawn.size
    for number, (left, top, right, bottom) in enumerate(regions):
        edges = (left * wide // FULL, top * high // FULL, -(-right * wide // FULL), -(-bottom * high // FULL))
        part = drawn.crop(edges)
        part.thumbnail((CUT_OUT, CUT_OUT))
        made.append(out / f"region-{number:04}.png")
        part.save(made[-1], "PNG", optimize=True)
    return made


def _has_alpha(image: Image.Image) -> bool:
    return image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info


def _telling(image: Image.Image) -> list[str]:
    """What the picture says that may identify somebody, in words."""
    found: dict[str, None] = {}
    exif = image.getexif()
    for tags in (exif, exif.get_ifd(ExifTags.IFD.Exif)):
        for tag in tags:
            name = ExifTags.TAGS.get(tag, "")
            if name in _TELLING:
                found[worded(_TELLING[name])] = None
    if exif.get_ifd(ExifTags.IFD.GPSInfo):
        found[say("the place")] = None
    if any(key in image.info for key in ("comment", "Comment", "Author", "Description", "XML:com.adobe.xmp", "xmp")):
        found[say("a comment")] = None
    return list(found)
