"""The house's picture: read, made small, written anew, so that nothing else of the file is kept (rulings 6.8)."""

import io

from PIL import Image, UnidentifiedImageError

from lauschen.core.errors import Invalid

LARGEST_FILE = 5_000_000
MOST_PIXELS = 4_000_000
LONGEST_SIDE = 800


def read_logo(data: bytes) -> bytes:
    """A PNG picture of it. Invalid for what is no PNG or JPEG, or has too many pixels. In the worker."""
    try:
        with Image.open(io.BytesIO(data), formats=("PNG", "JPEG")) as image:
            if image.width * image.height > MOST_PIXELS:
                mend = (
                    f"It has {image.width} by {image.height} pixels; four million are enough for any paper."
                )
                raise Invalid("logo_large", field="logo", mend=mend)
            shown = image.convert("RGBA")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as exc:
        raise Invalid("logo", field="logo", mend="A PNG or JPEG picture.") from exc
    shown.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    out = io.BytesIO()
    shown.save(out, "PNG", optimize=True)
    return out.getvalue()
