"""What the shape of a product in an IFC file depends on, as a digest: the same one in a newer file, the same shape."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterator, Mapping
from typing import Any

import ifcopenshell
import ifcopenshell.util.element

from edge_slice.core.model.ifc.materials import constituent_layers

READER = 1  # raise it when the same content is read as another shape
TEXT_OR_NUMBER = re.compile(r"'(?:[^']|'')*'|#(\d+)")  # in ISO 10303-21: a text (which may hold a #), or a reference
HOLES = ("HasOpenings", "HasProjections")


class Contents:
    """Digests of a file's products (Merkle, 1987: an entity's holds those of all it refers to): placement, bodies with
    their styles and aspects, openings, material. Names, GlobalIds, owners and numbers in the file do not count."""

    def __init__(self, file: Any, scale: float, aspects: Mapping[int, str]) -> None:
        """scale: metres of the file's unit; aspects: names of the representation items that have one."""
        self._file = file
        self._base = f"{READER} {ifcopenshell.version} {scale!r}"
        self._more: dict[int, list[Any]] = {}  # what else an entity depends on: texts and numbers of entities
        self._known: dict[int, bytes] = {}
        for item, name in aspects.items():
            self._more.setdefault(item, []).append(name)
        for styled in file.by_type("IfcStyledItem"):
            if styled.Item is not None:
                self._more.setdefault(styled.Item.id(), []).extend(s.id() for s in styled.Styles)
        for shown in file.by_type("IfcMaterialDefinitionRepresentation"):
            if shown.RepresentedMaterial is not None:  # which a broken file may leave out
                of = self._more.setdefault(shown.RepresentedMaterial.id(), [])
                of.extend(r.id() for r in shown.Representations)

    def of(self, product: Any, kind: str) -> str:
        """The digest (32 hexadecimal digits) of a product that is read as an element of a kind, or as a room."""
        digest = hashlib.blake2b(repr((self._base, product.is_a(), kind)).encode(), digest_size=16)
        for part in (product, *_holes(product)):
            digest.update(part.is_a().encode())
            for entity in (part.ObjectPlacement, part.Representation):
                digest.update(b"-" if entity is None else self._of(entity.id()))
        material = ifcopenshell.util.element.get_material(product, should_inherit=True)
        if material is not None:
            digest.update(self._of(material.id()))
            if material.is_a("IfcMaterialConstituentSet"):
                digest.update(repr(constituent_layers(product, material)).encode())
        return digest.hexdigest()

    def _of(self, wanted: int) -> bytes:
        """The digest of an entity, after those of all it refers to; without recursion, which long chains of
        subtractions would exhaust. One that refers to itself counts nothing there."""
        waiting, parts = [wanted], dict[int, list[Any]]()
        while waiting:
            number = waiting[-1]
            if number in self._known:
                waiting.pop()
            elif number not in parts:
                parts[number] = [*self._parts(number), *self._more.get(number, ())]
                waiting += [p for p in parts[number] if isinstance(p, int) and p not in parts]
            else:
                said = [self._known.get(p, b"") if isinstance(p, int) else p.encode() for p in parts[number]]
                self._known[number] = hashlib.blake2b(b"\0".join(said), digest_size=16).digest()
                waiting.pop()
        return self._known[wanted]

    def _parts(self, number: int) -> Iterator[str | int]:
        """What the file says of an entity: its words, and the numbers of entities between them."""
        text, at = str(self._file.by_id(number)).partition("=")[2], 0
        for found in TEXT_OR_NUMBER.finditer(text):
            if found[1]:
                yield text[at : found.start()]
                yield int(found[1])
                at = found.end()
        yield text[at:]


def _holes(product: Any) -> Iterator[Any]:
    """What is subtracted from a product, and added to it; of what it is a part of, too."""
    while product is not None and product.is_a("IfcElement"):
        for relation in (r for name in HOLES for r in getattr(product, name, ())):
            if relation[5] is not None:
                yield relation[5]
        product = ifcopenshell.util.element.get_aggregate(product)
