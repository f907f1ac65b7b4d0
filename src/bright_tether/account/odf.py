"""An empty OpenDocument file that is ours from its first byte on."""

from __future__ import annotations

from datetime import datetime

from odfdo import Document


def own_document(kind: str, title: str) -> Document:
    """A document of a kind ("text", "spreadsheet") with no content, and nothing said of it but what is true."""
    document = Document(kind)
    document.body.clear()
    listed = document.manifest.get_paths()
    for part in document.get_parts():
        if part.startswith(("Thumbnails/", "Configurations2/")):  # of the library's pattern
            document.del_part(part)
            if part in listed:
                document.manifest.del_full_path(part)
    document.language = "en"
    document.meta.meta_body.clear()
    document.meta.title = title
    document.meta.generator = "Bright Tether"
    document.meta.creation_date = document.meta.date = datetime.now().astimezone().replace(microsecond=0)
    return document
