"""python -m bench.reading [FILE]: reading a model against ifcopenshell's own geometry iterator, and a revision of it in
which every twentieth element has moved against reading that without knowing the first; in one run, with the same
threads."""

from __future__ import annotations

import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import ifcopenshell
import ifcopenshell.geom
import ifcopenshell.util.unit

from edge_slice.core.model.ifc.reading import read_ifc
from edge_slice.core.model.revisions import revised

DEMO = Path(__file__).parents[1] / "demo" / "curlew-point.ifc"
RUNS, THREADS = 3, 2


def iterated(path: Path) -> int:
    """Opens the file and builds every shape, as the reader does, and throws them away."""
    file = ifcopenshell.open(str(path))
    settings = ifcopenshell.geom.settings()
    settings.set("weld-vertices", True)
    products = [p for p in file.by_type("IfcProduct") if p.Representation and not p.is_a("IfcFeatureElement")]
    iterator = ifcopenshell.geom.iterator(settings, file, THREADS, include=products)
    count = 0
    if iterator.initialize():
        while True:
            count += len(iterator.get().geometry.faces) // 3
            if not iterator.next():
                break
    return count


def with_moved(path: Path, out: Path) -> Path:
    """A copy of a file in which every twentieth element with a body stands 50 mm further on."""
    file = ifcopenshell.open(str(path))
    scale = ifcopenshell.util.unit.calculate_unit_scale(file)
    for product in [p for p in file.by_type("IfcElement") if p.Representation and p.ObjectPlacement][::20]:
        old = product.ObjectPlacement
        at = old.RelativePlacement
        x, y, z = at.Location.Coordinates
        moved = file.create_entity("IfcCartesianPoint", (x, y + 0.05 / scale, z))
        axes = file.create_entity("IfcAxis2Placement3D", moved, at.Axis, at.RefDirection)
        product.ObjectPlacement = file.create_entity("IfcLocalPlacement", old.PlacementRelTo, axes)
    file.write(str(out))
    return out


def best(act: Callable[[], object]) -> float:
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        act()
        times.append(time.perf_counter() - start)
    return min(times)


def main() -> None:
    path = Path(sys.argv[1]) if len(sys.argv) > 1 else DEMO
    read_ifc(path, threads=THREADS)
    theirs = best(lambda: iterated(path))
    ours = best(lambda: read_ifc(path, threads=THREADS))
    print(f"{path.name}: iterator {theirs:.2f} s, reader {ours:.2f} s, ratio {ours / theirs:.2f}")
    known = read_ifc(path, threads=THREADS)
    with tempfile.TemporaryDirectory() as folder:
        newer = with_moved(path, Path(folder) / path.name)
        anew = best(lambda: read_ifc(newer, threads=THREADS))
        again = best(lambda: read_ifc(newer, threads=THREADS, known=known))
        changes = revised(known, read_ifc(newer, threads=THREADS, known=known))[1]
    changed = len(changes.changed_guids) / len(known.elements)
    print(f"a revision, {changed:.0%} of elements changed: {again:.2f} s, anew {anew:.2f} s, ratio {again / anew:.2f}")


if __name__ == "__main__":
    main()
