"""Finds the class of a material by the words in its name, in any language that the words cover."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Mapping
from functools import cache, lru_cache

_LETTERS = str.maketrans({"ø": "o", "æ": "ae", "ß": "ss", "đ": "d", "ł": "l"})


def findable(text: str) -> str:
    """A text as it is looked for: small letters without accents and points, however they were typed."""
    bare = unicodedata.normalize("NFKD", text.casefold().translate(_LETTERS))
    return "".join(c for c in bare if not unicodedata.combining(c))


@lru_cache(4096)  # a model has few names, and drawings ask for them again and again
def plain(text: str) -> str:
    """Small letters without accents, words parted by single spaces."""
    return " ".join(re.findall(r"[^\W_]+", findable(text)))


@cache
def _pattern(word: str) -> re.Pattern[str]:
    """Short words stand alone, longer ones begin or end a word: in many languages a compound's last part says what a
    thing is ("Sichtbeton")."""
    text = re.escape(word)
    if len(text) <= 3:
        return re.compile(rf"\b{text}s?\b")
    return re.compile(rf"\b{text}|{text}\b")


class Words:
    """Words by class. `found` gives the class to which most letters of a name belong, each letter counted for the
    longest word alone; among equals, the one named first."""

    def __init__(self, words: Mapping[str, Iterable[str]]) -> None:
        pairs = {(plain(w), k) for k, of in words.items() for w in of}
        self._found: dict[str, str | None] = {}  # a model has few names, and drawings ask for them again and again
        self._known = [(w, k) for w, k in sorted(pairs, key=lambda pair: (-len(pair[0]), pair))]

    def found(self, name: str) -> str | None:
        if name not in self._found:
            self._found[name] = self._search(name)
        return self._found[name]

    def matches(self, name: str) -> list[tuple[int, int, str, str]]:
        """The words that a name has: from and to which letter of it (`plain`), the word, its class; longest first."""
        text, found = plain(name), []
        for word, key in self._known:
            match = _pattern(word).search(text) if word in text else None
            if match is not None:
                found.append((match.start(), match.end(), word, key))
                text = text[: match.start()] + "·" * (match.end() - match.start()) + text[match.end() :]
        return found

    def _search(self, name: str) -> str | None:
        score: dict[str, int] = {}
        first: dict[str, int] = {}
        for start, end, _, key in self.matches(name):
            score[key] = score.get(key, 0) + end - start
            first[key] = min(first.get(key, start), start)
        return min(score, key=lambda k: (-score[k], first[k]), default=None)
