"""The words of a PDF, as an independent reader finds them."""

from contextlib import closing

import pypdfium2


def _joined(text):
    """One line; what was parted at its hyphen is one word again."""
    return " ".join(text.replace("\x02", "-").replace("\ufffe", "-").split())


def pages_of(path):
    """The words of each page, single spaces between them."""
    with closing(pypdfium2.PdfDocument(path)) as document:
        return [_joined(page.get_textpage().get_text_bounded()) for page in document]


def words_of(path):
    """The words of all pages."""
    return " ".join(pages_of(path))
