"""What a picture file is, told from its first bytes and before anything is decoded: its type and its size.

JPEG (ISO/IEC 10918-1, markers of annex B), PNG (ISO/IEC 15948, chunk IHDR) and WebP (RFC 9649) are taken; each check
here is from memory of those texts and held against what the toolkit writes.
"""

from __future__ import annotations

import struct
from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError

PictureType = Literal["jpeg", "png", "webp", ""]
MOST_BYTES = 60_000_000
MOST_POINTS = 120_000_000
_KNOWN = {
    b"GIF8": "a GIF", b"II*\0": "a TIFF", b"MM\0*": "a TIFF", b"%PDF": "a PDF", b"BM": "a bitmap",
    b"<svg": "a drawing", b"PK\x03\x04": "a packed file",
}  # fmt: skip
_SCAN = 0xDA
_FRAMES = frozenset(range(0xC0, 0xD0)) - {0xC4, 0xC8, 0xCC}


@dataclass(frozen=True)
class PictureHead:
    """What the head of a picture file says: its type, width and height in picture points, as stored."""

    kind: PictureType
    width: int
    height: int


def picture_type(data: bytes) -> PictureType:
    """JPEG, PNG or WebP by its first bytes; empty for anything else."""
    if data[:3] == b"\xff\xd8\xff":
        return "jpeg"
    if data[:8] == b"\x89PNG\r\n\x1a\n":
        return "png"
    return "webp" if data[:4] == b"RIFF" and data[8:12] == b"WEBP" else ""


def check_picture(data: bytes) -> PictureHead:
    """What a picture is, looked at without decoding it.

    Raises BadInputError, in words that follow its name, for what is no picture, cut short, or too large to be one.
    """
    if not data:
        raise BadInputError("is empty")
    if len(data) > MOST_BYTES:
        raise BadInputError(f"is larger than {MOST_BYTES // 1_000_000} MB; make it smaller, or take one of less detail")
    kind = picture_type(data)
    if not kind:
        raise BadInputError(f"is {_called(data)}; choose a JPEG, PNG or WebP picture")
    size = {"jpeg": _jpeg_size, "png": _png_size, "webp": _webp_size}[kind](data)
    if size is None or min(size) < 1:
        raise BadInputError(f"begins like a {kind.upper()} picture but is broken or cut short; copy it again")
    if size[0] * size[1] > MOST_POINTS:
        raise BadInputError(f"unpacks to {size[0]} by {size[1]} picture points, more than any camera takes; left alone")
    return PictureHead(kind, *size)


def _called(data: bytes) -> str:
    if data[4:8] == b"ftyp":
        return "a HEIC picture or a film; let the phone send it as JPEG" if data[8:12] in _HEIC else "a film"
    return next((words for head, words in _KNOWN.items() if data.startswith(head)), "no picture")


_HEIC = (b"heic", b"heix", b"mif1", b"hevc", b"avif")


def _png_size(data: bytes) -> tuple[int, int] | None:
    if len(data) < 33 or data[12:16] != b"IHDR":
        return None
    width, height = struct.unpack(">II", data[16:24])
    too_large = width * height > MOST_POINTS  # is told as such, whole or not
    return (width, height) if too_large or b"IEND" in data[33:] else None


def _webp_size(data: bytes) -> tuple[int, int] | None:
    if len(data) < 30 or int.from_bytes(data[4:8], "little") + 8 > len(data):
        return None
    if data[12:16] == b"VP8X":
        return 1 + int.from_bytes(data[24:27], "little"), 1 + int.from_bytes(data[27:30], "little")
    if data[12:16] == b"VP8L":
        bits = int.from_bytes(data[21:25], "little")
        return 1 + (bits & 0x3FFF), 1 + (bits >> 14 & 0x3FFF)
    if data[12:16] == b"VP8 ":
        width, height = struct.unpack("<HH", data[26:30])
        return width & 0x3FFF, height & 0x3FFF
    return None


def _jpeg_size(data: bytes) -> tuple[int, int] | None:
    """Walks the markers: the frame says the size; after the scan begins an end must come, or it is cut short."""
    at, size = 2, None
    while at + 9 < len(data):
        if data[at] != 0xFF:
            return None
        marker = data[at + 1]
        if marker == 0xFF:
            at += 1
            continue
        if marker in _FRAMES:
            height, width = struct.unpack(">HH", data[at + 5 : at + 9])
            size = width, height
        if marker == _SCAN:
            return size if data.find(b"\xff\xd9", at) > 0 else None
        if marker in (0x01, *range(0xD0, 0xD9)):
            at += 2
            continue
        length = int.from_bytes(data[at + 2 : at + 4], "big")
        if length < 2:
            return None
        at += 2 + length
    return None
