"""python -m bench.growth: how time and memory grow with the model, on an office building of 1, 10 and 100 times the
size. Prints a table and writes a plot.

Each size is cut along its whole length, with everything behind the cut, in a process of its own, so that the peak of
memory is that of this size alone. `power` is the exponent p of time = c * size^p between a size and the smallest.
"""

from __future__ import annotations

import math
import resource
import subprocess
import sys
from pathlib import Path

from bench.office import SIZES, office
from bench.timing import median
from edge_slice.core.compiled import compile_kernels
from edge_slice.core.cut import SectionCut, cut_model
from edge_slice.core.drawing import default_standard

OUT = Path(__file__).parent / "growth.svg"
MILLION = 1_000_000


def measure(size: int) -> tuple[int, float, float]:
    """Triangles, seconds of a warm cut with hidden lines, and bytes of peak memory a triangle, over what the program
    with its compiled code takes."""
    compile_kernels()
    bays, rows, storeys = SIZES[size]
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    model = office(bays, rows, storeys)
    spec = SectionCut(line=((-3.0, 2.1), (6.0 * bays + 3.0, 2.1)))
    rules = default_standard().cut_rules(model)
    taken = median(lambda: cut_model(model, spec, rules), 5 if size < 100 else 3)
    used = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) * 1024
    return len(model.mesh.triangles), taken, used / len(model.mesh.triangles)


def in_a_process(size: int) -> tuple[int, float, float]:
    answer = subprocess.run(
        [sys.executable, "-m", "bench.growth", str(size)], check=True, capture_output=True, text=True
    )
    triangles, taken, used = answer.stdout.split()
    return int(triangles), float(taken), float(used)


def plot(rows: list[tuple[int, float]]) -> str:
    """Both axes logarithmic; the dashed line grows as fast as the model."""
    wide, high, edge = 460, 300, 50
    low_x, high_x = math.log10(rows[0][0]) - 0.3, math.log10(rows[-1][0]) + 0.3
    low_y, high_y = math.log10(rows[0][1]) - 0.3, math.log10(rows[-1][1]) + 0.4

    def at(triangles: float, seconds: float) -> tuple[float, float]:
        x = edge + (math.log10(triangles) - low_x) / (high_x - low_x) * (wide - 2 * edge)
        y = high - edge - (math.log10(seconds) - low_y) / (high_y - low_y) * (high - 2 * edge)
        return round(x, 1), round(y, 1)

    first, last = rows[0], rows[-1]
    a, b = at(*first), at(last[0], first[1] * last[0] / first[0])
    points = [at(*row) for row in rows]
    marks = [
        f'<circle cx="{x}" cy="{y}" r="3.5"/><text x="{x + 8}" y="{y + 14}">{t / MILLION:.2f} M, {s:.2f} s</text>'
        for (x, y), (t, s) in zip(points, rows, strict=True)
    ]
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide} {high}" font-family="sans-serif" font-size="11">'
        f'<rect width="{wide}" height="{high}" fill="#fff"/><g stroke="#23282a" fill="none">'
        f'<path d="M{edge} {edge}V{high - edge}H{wide - edge}"/>'
        f'<path d="M{a[0]} {a[1]}L{b[0]} {b[1]}" stroke-dasharray="4 4"/>'
        f'<polyline points="{" ".join(f"{x},{y}" for x, y in points)}" stroke-width="2"/></g>'
        f'{"".join(marks)}<text x="{wide / 2}" y="{high - 15}" text-anchor="middle">triangles</text>'
        f'<text x="15" y="{high / 2}" transform="rotate(-90 15 {high / 2})" text-anchor="middle">seconds</text></svg>\n'
    )


def main() -> None:
    if len(sys.argv) > 1:
        print(*measure(int(sys.argv[1])))
        return
    print(f"{'size':>6}{'triangles':>12}{'cut':>10}{'a million':>12}{'power':>8}{'memory':>14}")
    rows: list[tuple[int, float]] = []
    for size in SIZES:
        triangles, taken, used = in_a_process(size)
        rows.append((triangles, taken))
        power = math.log(taken / rows[0][1]) / math.log(triangles / rows[0][0]) if len(rows) > 1 else 1.0
        million = taken * MILLION / triangles
        print(f"{size:>6}{triangles:>12}{taken:>8.2f} s{million:>10.2f} s{power:>8.2f}{used:>8.0f} B/tri", flush=True)
    OUT.write_text(plot(rows), "utf-8")
    print(f"\nplot: {OUT.relative_to(Path.cwd())}")


if __name__ == "__main__":
    main()
