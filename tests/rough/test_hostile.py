"""Pictures that somebody spoiled: each is read or refused with reasons, and none fells anything.

KEENCOAT_HOSTILE says how many; 10 000 for docs/reliability.md."""

import io
import os
import random
import struct
import time
import zlib
from collections import Counter

import pytest
from PIL import Image, PngImagePlugin

from keencoat.core.errors import BadValueError, KeenCoatError
from keencoat.core.vision.pictures import small_jpeg
from keencoat.shop.aside import _pool, aside

HOW_MANY = int(os.environ.get("KEENCOAT_HOSTILE", "400"))


def seeds():
    rng = random.Random(5)
    picture = Image.effect_noise((420, 320), 60).convert("RGB")
    found = []
    for kind, options in (("JPEG", {}), ("JPEG", {"progressive": True}), ("PNG", {}), ("HEIF", {}), ("MPO", {})):
        out = io.BytesIO()
        picture.save(out, kind, **options)
        found.append(out.getvalue())
    told = PngImagePlugin.PngInfo()
    told.add_text("note", "x" * 3000, zip=True)
    out = io.BytesIO()
    picture.save(out, "PNG", pnginfo=told, icc_profile=rng.randbytes(3000))
    return [*found, out.getvalue()]


def chunk(kind, data):
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def bombs():
    """Small files that claim or hold far too much: pixels, text, a colour profile."""
    head = b"\x89PNG\r\n\x1a\n"
    for side in (5999, 20_000, 2**31 - 1):
        lines = zlib.compress(b"\0" * 4_000_000, 9)
        yield head + chunk(b"IHDR", struct.pack(">IIBBBBB", side, side, 8, 2, 0, 0, 0)) + chunk(b"IDAT", lines)
    small = chunk(b"IHDR", struct.pack(">IIBBBBB", 400, 400, 8, 2, 0, 0, 0))
    swollen = zlib.compress(b"a" * 200_000_000, 9)
    yield head + small + chunk(b"zTXt", b"note\0\0" + swollen) + chunk(b"IDAT", zlib.compress(b"\0" * 480_400))
    yield head + small + chunk(b"iCCP", b"icc\0\0" + swollen) + chunk(b"IDAT", zlib.compress(b"\0" * 480_400))


def spoiled(data, rng):
    """The file with a few of: bytes changed, a piece cut out or doubled, its end gone, numbers made huge."""
    data = bytearray(data)
    for _ in range(rng.randint(1, 4)):
        at, much = rng.randrange(len(data)), rng.randint(1, 400)
        match rng.randrange(6):
            case 0:
                data[at] = rng.randrange(256)
            case 1:
                del data[at : at + much]
            case 2:
                data[at:at] = data[at : at + much]
            case 3:
                del data[max(20, at) :]
            case 4:
                data[at : at + 4] = b"\xff\xff\xff\x7f"
            case 5:
                data[at : at + much] = rng.randbytes(much)
        if not data:
            data = bytearray(b"\xff\xd8")
    return bytes(data)


def test_spoiled_pictures_are_read_or_refused_with_reasons():
    rng, said, hints = random.Random(HOW_MANY), Counter(), []
    whole = seeds()
    begun = time.monotonic()
    for _ in range(HOW_MANY):
        try:
            aside(small_jpeg, spoiled(rng.choice(whole), rng), cpu_s=20)
            said["read"] += 1
        except KeenCoatError as error:
            hints.append(error.hint)
            said[error.message.split(":")[0].split(" is only ")[0][:44]] += 1
    print(f"{HOW_MANY} spoiled pictures in {time.monotonic() - begun:.0f} s:", dict(said.most_common()))
    assert said["read"] > 0
    assert all(hints)
    assert sum(said.values()) == HOW_MANY


@pytest.mark.parametrize("number", range(5))
def test_a_bomb_is_refused_quickly(number):
    bomb = list(bombs())[number]
    with pytest.raises(KeenCoatError):
        aside(small_jpeg, bomb, cpu_s=20)
    out = io.BytesIO()
    Image.new("RGB", (400, 300), "grey").save(out, "JPEG")
    assert aside(small_jpeg, out.getvalue())[:2] == b"\xff\xd8"


def spins():
    while True:
        pass


def test_what_computes_for_too_long_is_given_up_and_the_next_is_done():
    with pytest.raises(BadValueError, match="1 s of computing"):
        aside(spins, cpu_s=1)
    assert aside(pow, 3, 2) == 9


def test_nobody_decodes_as_root():
    if os.geteuid() != 0:
        pytest.skip("runs as root only")
    assert aside(os.geteuid) != 0


def test_a_pool_that_fell_is_made_anew():
    out = io.BytesIO()
    Image.new("RGB", (400, 300), "grey").save(out, "JPEG")
    with pytest.raises(BadValueError, match="could not be worked out"):
        aside(os._exit, 3)
    _pool("photos").stop()
    _pool("photos").join()
    assert aside(small_jpeg, out.getvalue())[:2] == b"\xff\xd8"
