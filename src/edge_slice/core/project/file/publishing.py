"""All sheets of a project as files."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from edge_slice.core.model import Model
from edge_slice.core.project.drawings import Drawings
from edge_slice.core.project.file.file_rows import FileDrawing, FilePlacement, FileSheet
from edge_slice.core.project.file.file_source import FileProject
from edge_slice.core.project.file.project_file import ProjectFile
from edge_slice.core.project.file.settling import settle
from edge_slice.core.project.refused import Refused
from edge_slice.core.project.sheets import Sheets, sheet_file_name, sheet_title
from edge_slice.core.render.binding import Leaf, bound
from edge_slice.core.render.file_names import plain_name
from edge_slice.core.render.outputs import OUTPUTS


class Publisher:
    """The sheets of a project file, by the revisions of its model, the newest last.

    `findings`: what of it found no place. Raises `Refused`."""

    def __init__(self, document: ProjectFile, models: Sequence[Model], folder: Path) -> None:
        project = FileProject(document, models, folder)
        self.findings = settle(project)
        self.project = project
        self._sheets: Sheets[FileSheet, FilePlacement, FileDrawing] = Sheets(
            Drawings(project), project.sheets, project.placed, project.drawings()
        )

    @property
    def numbers(self) -> list[str]:
        """Of its sheets, in the order of the register."""
        return [s.number for s in self._sheets.sheets]

    def files(
        self, form: str, only: list[str], dpi: float, at_once: int, said: Callable[[str], None]
    ) -> list[tuple[str, bytes]]:
        """Names and bytes: one linked PDF of all, or a file for each sheet. The order of work has no influence on
        them. `only`: numbers of sheets, none for all; each sheet is `said` when it is drawn."""
        unknown = next((n for n in only if n not in self.numbers), None)
        if unknown is not None:
            raise Refused(f"There is no sheet {unknown}; there are: {', '.join(self.numbers) or 'none'}.", "sheets")
        rows = [s for s in self._sheets.sheets if not only or s.number in only]
        if not rows:
            raise Refused("This project has no sheets.", "sheet")
        if OUTPUTS[form].bound:
            with ThreadPoolExecutor(at_once) as pool:
                leaves = list(pool.map(lambda row: self._leaf(row, said), rows))
            return [(f"{plain_name(self.project.name)}.{form}", bound(leaves, self.project.name))]
        with ThreadPoolExecutor(at_once) as pool:
            return list(pool.map(lambda row: self._file(row, form, dpi, said), rows))

    def _leaf(self, row: FileSheet, said: Callable[[str], None]) -> Leaf:
        leaf = self._sheets.leaf(row)
        said(leaf.title)
        return leaf

    def _file(self, row: FileSheet, form: str, dpi: float, said: Callable[[str], None]) -> tuple[str, bytes]:
        data = self._sheets.file(row, form, dpi)
        said(sheet_title(row))
        return sheet_file_name(row, form), data
