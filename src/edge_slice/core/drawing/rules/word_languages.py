"""Of which language a word is that recognises a class of material: of the words that are shipped."""

from __future__ import annotations

import json
from functools import cache
from importlib import resources


@cache
def words_by_language() -> dict[str, tuple[str, ...]]:
    """The words of all shipped classes by the code of their language (ISO 639-1); one that several languages have is
    in the first of them."""
    text = resources.files("edge_slice.core.drawing").joinpath("standards", "words.json").read_text("utf-8")
    return {language: tuple(words) for language, words in json.loads(text).items()}
