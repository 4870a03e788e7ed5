"""The words of a PDF, as an independent reader finds them."""

from contextlib import closing

import pypdfium2


def pages_of(path):
    """The words of each page, single spaces between them."""
    with closing(pypdfium2.PdfDocument(path)) as document:
        return [" ".join(page.get_textpage().get_text_bounded().split()) for page in document]


def words_of(path):
    """The words of all pages."""
    return " ".join(pages_of(path))
