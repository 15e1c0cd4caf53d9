"""Read models, kept in the user's cache folder by the content of their file, for the next command."""

from __future__ import annotations

import contextlib
import hashlib
import os
import tempfile
import zipfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from edge_slice.core.model import Model
from edge_slice.core.model.storage import FORMAT, model_from_bytes, model_to_bytes

READER = 2  # raise it when the same file is read otherwise
LIMIT_MB = 2048


@dataclass(frozen=True)
class ModelCache:
    """Models in `folder`, together at most `limit` bytes; the longest unused go first."""

    folder: Path
    limit: int

    @staticmethod
    def of_user() -> ModelCache:
        """In the folder of the XDG base directory specification; EDGE_SLICE_CACHE_MB sets the limit."""
        base = os.environ.get("XDG_CACHE_HOME") or str(Path.home() / ".cache")
        try:
            limit = int(float(os.environ.get("EDGE_SLICE_CACHE_MB", LIMIT_MB)) * 1024 * 1024)
        except ValueError:
            limit = LIMIT_MB * 1024 * 1024
        return ModelCache(Path(base) / "edge-slice" / "models", limit)

    def get(self, path: Path, said: str, read: Callable[[], Model]) -> Model:
        """The model in a file, as it was read before, or read now and kept. `said`: what else the reading depends on.
        A cache that can't be read or written is done without."""
        kept = self.folder / f"{_digest(path, said)}.npz"
        with contextlib.suppress(OSError, ValueError, KeyError, EOFError, zipfile.BadZipFile):
            model = model_from_bytes(kept.read_bytes())
            os.utime(kept)
            return model
        model = read()
        with contextlib.suppress(OSError):
            self._keep(kept, model_to_bytes(model, compressed=False))
        return model

    def _keep(self, kept: Path, data: bytes) -> None:
        if len(data) > self.limit:
            return
        self.folder.mkdir(parents=True, exist_ok=True)
        with tempfile.NamedTemporaryFile(dir=self.folder, suffix=".part", delete=False) as part:
            part.write(data)
        os.replace(part.name, kept)  # as a whole or not at all, also beside other commands
        over = self.size() - self.limit
        for old in sorted(self.files(), key=lambda f: f.stat().st_mtime):
            if over <= 0:
                break
            over -= old.stat().st_size
            old.unlink(missing_ok=True)

    def files(self) -> list[Path]:
        return sorted(self.folder.glob("*.npz")) if self.folder.is_dir() else []

    def size(self) -> int:
        """Bytes of all that is kept."""
        return sum(f.stat().st_size for f in self.files())

    def clear(self) -> int:
        """Delete everything; how many models that were."""
        files = self.files()
        for file in [*files, *(self.folder.glob("*.part") if self.folder.is_dir() else ())]:
            file.unlink(missing_ok=True)
        return len(files)


def _digest(path: Path, said: str) -> str:
    digest = hashlib.sha256(f"{READER} {FORMAT} {path.suffix.lower()} {said}\0".encode())
    with path.open("rb") as stream:
        while part := stream.read(1 << 20):
            digest.update(part)
    return digest.hexdigest()
