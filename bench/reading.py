"""python -m bench.reading [FILE]: reading a model against ifcopenshell's own geometry iterator, in one run with the
same threads."""

from __future__ import annotations

import sys
import time
from pathlib import Path

import ifcopenshell
import ifcopenshell.geom

from edge_slice.core.model.ifc import read_ifc

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


def best(act: object) -> float:
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        act()  # type: ignore[operator]
        times.append(time.perf_counter() - start)
    return min(times)


def main() -> None:
    path = Path(sys.argv[1]) if len(sys.argv) > 1 else DEMO
    read_ifc(path, threads=THREADS)
    theirs = best(lambda: iterated(path))
    ours = best(lambda: read_ifc(path, threads=THREADS))
    print(f"{path.name}: iterator {theirs:.2f} s, reader {ours:.2f} s, ratio {ours / theirs:.2f}")


if __name__ == "__main__":
    main()
