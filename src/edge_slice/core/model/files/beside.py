"""The files that a model's file names beside itself: its buffers, its materials. Nothing outside its folder is read."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from urllib.parse import unquote, urlsplit

from trimesh.resolvers import Resolver

from edge_slice.core.model.errors import UnreadableModel

PICTURES = (".png", ".jpg", ".jpeg", ".webp", ".tga", ".bmp", ".gif", ".ktx2", ".dds", ".tif", ".tiff")


class Beside(Resolver):  # type: ignore[misc]
    """The folder of a model's file, for the library that reads it. `refused`: what was asked for and not given; the
    library may go on without it, its caller does not."""

    def __init__(self, model: Path) -> None:
        self._folder = model.resolve().parent
        self._only_surfaces = model.suffix.lower() == ".obj"  # all that such a file names is what surfaces look like
        self.refused: list[UnreadableModel] = []

    def get(self, key: str) -> bytes:
        """The bytes of a file. Raises `UnreadableModel` for one outside, or that is not there; `FileNotFoundError` for
        what surfaces look like, which has no part in a drawing: a model is read without it."""
        name = unquote(str(key)).strip()
        path = (self._folder / name.replace("\\", "/")).resolve()
        if urlsplit(name).scheme or name.startswith(("/", "\\")) or not path.is_relative_to(self._folder):
            raise self._refuse(
                f"The file names another outside of its folder, “{name[:80]}”; only files beside it are read."
            )
        surface = self._only_surfaces or path.suffix.lower() in PICTURES
        if path.suffix.lower() in PICTURES or (surface and not path.is_file()):
            raise FileNotFoundError(name)
        if not path.is_file():
            raise self._refuse(
                f"The file names another, “{name[:80]}”, which is not beside it: save the model as one file (GLB, or"
                " glTF with its buffers embedded), or read it from the folder that holds both."
            )
        return path.read_bytes()

    def _refuse(self, words: str) -> UnreadableModel:
        self.refused.append(UnreadableModel(words))
        return self.refused[-1]

    def keys(self) -> Iterator[str]:
        return (path.name for path in self._folder.iterdir() if path.is_file())

    def namespaced(self, namespace: str) -> Beside:
        return self

    def write(self, name: str, data: bytes) -> None:
        raise UnreadableModel("Reading a model writes no file.")
