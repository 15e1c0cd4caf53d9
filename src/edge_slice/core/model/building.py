"""`Model` and its parts. Lengths are metres, z up, relative to `Model.origin`."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.model.ground.relief import Relief
from edge_slice.core.model.mesh.boxes import boxes_of
from edge_slice.core.model.mesh.flats import Flats, flats_of
from edge_slice.core.model.mesh.joints import Joints, joints_of
from edge_slice.core.model.mesh.surfaces import Layering, Surfaces, surfaces_of
from edge_slice.core.model.mesh.triangles import Mesh

F64 = NDArray[np.float64]
Progress = Callable[[float, str], None]  # what readers tell: a share from 0 to 1, and a word for the user
Discipline = Literal["architecture", "structure", "services", "site", "furniture"]
OF_BODIES = ("boxes", "joints", "surfaces", "triangle_materials", "_footprints")  # what GlobalIds don't matter for
LONG = 2.0  # an element this much longer than wide has a grain along it


@dataclass(frozen=True)
class Material:
    """A material by name; `category` is the class given in the file, or empty. `said` and `hatch` are what the project
    says of it in some place (`said.with_said`): a class and a hatch of drawing standards, or empty."""

    name: str
    category: str = ""
    said: str = ""
    hatch: str = ""


@dataclass(frozen=True)
class Layer:
    """One layer of a build-up: index into `Model.materials`, thickness in metres."""

    material: int
    thickness: float


@dataclass(frozen=True)
class BuildUp:
    name: str
    layers: tuple[Layer, ...]

    @property
    def thickness(self) -> float:
        """Of all layers together, metres."""
        return sum(layer.thickness for layer in self.layers)


@dataclass(frozen=True)
class LayerFrame:
    """Where an element's layers lie: layer k fills the slab between the sums of thicknesses before and
    after it, measured from `origin` (3,) along the unit vector `direction` (3,).

    With a `radius` the layers are round an upright axis through `origin`: they are measured outwards from that
    radius (metres), or inwards from it where the direction's first number is negative."""

    origin: tuple[float, float, float]
    direction: tuple[float, float, float]
    radius: float = 0.0


@dataclass(frozen=True)
class Placement:
    """An element's own frame: origin (3,) in metres and the unit vectors of its x and y axis, in the model."""

    origin: tuple[float, float, float]
    x: tuple[float, float, float]
    y: tuple[float, float, float]


@dataclass(frozen=True)
class Run:
    """What a piece of pipe, duct or cable tray is a piece of: its system's name and purpose in the words of the file,
    empty where it doesn't say; `fitting`: it joins straight pieces; `flow` is the unit vector (3,) along which it
    flows in a straight piece, None where the file doesn't say."""

    system: str = ""
    purpose: str = ""
    fitting: bool = False
    flow: tuple[float, float, float] | None = None


@dataclass(frozen=True)
class Element:
    """`material` is the index of its only or main material, -1 when unknown; `build_up` indexes
    `Model.build_ups`, -1 for none, and comes with a frame; `placement` is None where the file gives none; `operation`
    is how a door opens, in the words of ISO 16739 (SINGLE_SWING_LEFT …: hinges at the least x of its placement seen
    along its y, opening towards y), empty when unknown; `properties` are what else the file says of it: "set: name" and
    value; `content` is a digest of what its shape was read from, empty where that isn't known; `part` indexes
    `Model.parts`, 0 where there are none; `run` is what it is a piece of, None for anything but services that run."""

    guid: str
    name: str
    kind: str
    storey: int
    material: int = -1
    build_up: int = -1
    frame: LayerFrame | None = None
    placement: Placement | None = None
    operation: str = ""
    properties: tuple[tuple[str, str], ...] = ()
    content: str = ""
    part: int = 0
    run: Run | None = None


@dataclass(frozen=True)
class Storey:
    guid: str
    name: str
    elevation: float


@dataclass(frozen=True)
class GridAxis:
    name: str
    start: tuple[float, float]
    end: tuple[float, float]


@dataclass(frozen=True)
class Space:
    """A room: `outline` is its footprint ring (n, 2) in metres, without the closing point; `floor` and
    `ceiling` are its lowest and highest point; `content` and `properties` as of an element."""

    guid: str
    number: str
    name: str
    storey: int
    outline: tuple[tuple[float, float], ...]
    floor: float
    ceiling: float
    content: str = ""
    properties: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class MapPlace:
    """Where a file says it lies on a map (IfcMapConversion, ISO 16739): what its zero is there, metres, the direction
    of its x axis there, unit vector (x, y), how many metres there one of its metres is, and the name of the map's
    system of coordinates, empty where the file doesn't give it."""

    eastings: float
    northings: float
    height: float
    x_axis: tuple[float, float] = (1.0, 0.0)
    scale: float = 1.0
    system: str = ""


@dataclass(frozen=True)
class Part:
    """One of the files that a model is put together from: the `key` by which its project knows it, what it is called,
    and whose it is."""

    key: str
    name: str
    discipline: Discipline


@dataclass(frozen=True)
class Twice:
    """What two parts both hold and is drawn once: the element that is drawn, the one that is not (GlobalId, name and
    `Model.parts` index), and by how much that one goes beyond, metres: on plan, in height; 0 where it doesn't. `holes`
    is the area of openings (m²) that only one of them has, `hole_at` where the largest of these is."""

    drawn: str
    left_out: str
    name: str
    part: int
    on_plan: float
    in_height: float
    holes: float = 0.0
    hole_at: tuple[float, float, float] | None = None

    @property
    def differs(self) -> bool:
        return self.on_plan > 0 or self.in_height > 0 or self.holes > 0


@dataclass(frozen=True)
class Model:
    """One revision of the building.

    `origin` is what was subtracted from the file's coordinates (metres); `north` is true north as a unit
    vector (x, y) in model axes; `leaking` and `problems` name elements whose mesh is not closed and parts
    of the file that could not be read; `former_ground` is the ground that a proposed one takes the place of, where that
    departs from it; `map_place` is where the file says it lies on a map; `parts` are the files that it is put together
    from, empty for one file; `twice` what two of them both hold.
    """

    name: str
    mesh: Mesh
    elements: tuple[Element, ...]
    materials: tuple[Material, ...]
    build_ups: tuple[BuildUp, ...] = ()
    storeys: tuple[Storey, ...] = ()
    grid: tuple[GridAxis, ...] = ()
    spaces: tuple[Space, ...] = ()
    origin: tuple[float, float, float] = (0.0, 0.0, 0.0)
    north: tuple[float, float] = (0.0, 1.0)
    unit: str = "m"
    schema: str = ""
    leaking: tuple[int, ...] = ()
    problems: tuple[str, ...] = field(default=())
    former_ground: Relief | None = None
    map_place: MapPlace | None = None
    parts: tuple[Part, ...] = ()
    twice: tuple[Twice, ...] = ()

    def under_guids(
        self, elements: tuple[Element, ...], storeys: tuple[Storey, ...], spaces: tuple[Space, ...]
    ) -> Model:
        """The same bodies, storeys and rooms under other GlobalIds; what has been found of bodies stays found."""
        if (elements, storeys, spaces) == (self.elements, self.storeys, self.spaces):
            return self
        found = replace(self, elements=elements, storeys=storeys, spaces=spaces)
        found.__dict__.update({name: self.__dict__[name] for name in OF_BODIES if name in self.__dict__})
        return found

    @cached_property
    def standing(self) -> NDArray[np.bool_]:
        """Which elements (n,) are the building: those that stand in storeys; all if none does."""
        found = np.array([e.storey >= 0 and e.kind not in ("ground", "planting") for e in self.elements], dtype=bool)
        return found if found.any() else np.ones(len(self.elements), dtype=bool)

    @cached_property
    def bounds(self) -> tuple[F64, F64]:
        """Lowest and highest corner (3,), metres, of what stands in storeys; of everything if nothing does."""
        shaped = np.isfinite(self.boxes[:, 0, 0])
        standing = self.standing & shaped
        boxes = self.boxes[standing if standing.any() else shaped]
        return boxes[:, 0].min(axis=0), boxes[:, 1].max(axis=0)

    @cached_property
    def element_by_guid(self) -> dict[str, int]:
        """Elements by GlobalId."""
        return {e.guid: k for k, e in enumerate(self.elements)}

    @cached_property
    def triangle_materials(self) -> NDArray[np.int64]:
        """Material of each triangle (m,), the number of materials for an unknown one."""
        own = np.array([e.material for e in self.elements], dtype=np.int64)
        found = np.where(self.mesh.triangle_material >= 0, self.mesh.triangle_material, own[self.mesh.triangle_element])
        return np.asarray(found % (len(self.materials) + 1), dtype=np.int64)

    @cached_property
    def joints(self) -> Joints:
        """Where surfaces run on as the same in another element."""
        return joints_of(self.mesh, self.surfaces)

    @cached_property
    def surfaces(self) -> Surfaces:
        """What each triangle shows."""
        frames = [e.frame if e.build_up >= 0 else None for e in self.elements]
        layering = Layering(
            np.array([e.build_up if f else -1 for e, f in zip(self.elements, frames, strict=True)], dtype=np.int64),
            np.array([f.origin if f else (0.0, 0.0, 0.0) for f in frames]),
            np.array([f.direction if f else (0.0, 0.0, 0.0) for f in frames]),
            np.array([f is not None and f.radius > 0 for f in frames], dtype=bool),
            np.array([(b.layers[0].material, b.layers[-1].material) for b in self.build_ups], dtype=np.int64),
        )
        return surfaces_of(self.mesh, self.triangle_materials, len(self.materials), layering)

    @cached_property
    def flats(self) -> Flats:
        """The flat faces of the building."""
        return flats_of(self.mesh, self.surfaces.kind)

    @cached_property
    def _axes(self) -> dict[int, F64 | None]:
        return {}

    def element_triangles(self, element: int) -> F64:
        """The triangles (k, 3, 3) of an element, metres."""
        triangles: F64 = self.mesh.vertices[self.mesh.triangles[self.mesh.of_element(element)]]
        return triangles

    @cached_property
    def boxes(self) -> F64:
        """Low and high corner of every element (elements, 2, 3), metres; of an empty one they are infinite."""
        found: F64 = boxes_of(self.mesh.vertices, self.mesh.triangles, self.mesh.triangle_element, len(self.elements))
        return found

    @cached_property
    def _footprints(self) -> dict[int, shapely.Geometry]:
        return {}

    def footprint(self, element: int) -> shapely.Geometry:
        """The convex outline on plan of an element, metres; a line or a point where it is no wider."""
        if element not in self._footprints:
            points = self.element_triangles(element).reshape(-1, 3)[:, :2]
            one = shapely.linestrings(points) if len(points) else shapely.Point()  # points alone are slow to make
            self._footprints[element] = shapely.convex_hull(one)
        return self._footprints[element]

    def long_axis(self, element: int) -> F64 | None:
        """Unit vector (3,) along an element that is clearly longer than wide (its principal axis), else None."""
        if element not in self._axes:
            own = np.unique(self.mesh.triangles[self.mesh.of_element(element)])
            self._axes[element] = _long_axis(self.mesh.vertices[own])
        return self._axes[element]

    @cached_property
    def digests(self) -> tuple[bytes, ...]:
        """For each element a digest of all that its drawing depends on: the same one, the same linework."""
        names = [repr(m) for m in self.materials] + [""]
        return tuple(self.digest_of(k, names) for k in range(len(self.elements)))

    def digest_of(self, element: int, names: Sequence[str]) -> bytes:
        """The digest of an element; `names` of the materials, the last one for an unknown one."""
        mesh, one = self.mesh, self.elements[element]
        rows, edges = mesh.of_element(element), mesh.edges_of_element(element)
        digest = hashlib.blake2b(mesh.vertices[mesh.triangles[rows]].tobytes(), digest_size=16)
        own = [names[m] for m in np.unique(mesh.triangle_material[rows]).tolist()]
        layers = self.build_ups[one.build_up].layers if one.build_up >= 0 else ()
        built = [(names[layer.material], layer.thickness) for layer in layers]
        digest.update(mesh.vertices[mesh.edges[edges]].tobytes())  # some depend on other elements
        digest.update(mesh.triangle_material[rows].tobytes() if len(own) > 1 else b"")
        digest.update(repr((one.kind, names[one.material], own, built, one.frame)).encode())
        return digest.digest()

    def part_name(self, element: int) -> str:
        """What the part is called that an element is of; empty in a model of one file."""
        return self.parts[self.elements[element].part].name if self.parts else ""

    def of_disciplines(self, disciplines: Collection[str]) -> NDArray[np.bool_]:
        """Which elements (n,) are of parts of some disciplines; none in a model of one file."""
        if not self.parts or not disciplines:
            return np.zeros(len(self.elements), dtype=bool)
        parts = [k for k, part in enumerate(self.parts) if part.discipline in disciplines]
        return np.isin([e.part for e in self.elements], parts)

    @property
    def unclosed(self) -> tuple[Element, ...]:
        """Leaking elements that should be bodies; ground is often given as a surface, and that is fine."""
        return tuple(self.elements[i] for i in self.leaking if self.elements[i].kind != "ground")

    @property
    def kinds(self) -> dict[str, int]:
        """Count of elements by kind, in alphabetical order."""
        counts: dict[str, int] = {}
        for element in self.elements:
            counts[element.kind] = counts.get(element.kind, 0) + 1
        return dict(sorted(counts.items()))


def _long_axis(points: F64) -> F64 | None:
    if len(points) < 4:
        return None
    _, axes = np.linalg.eigh(np.cov((points - points.mean(axis=0)).T))
    sizes = np.ptp(points @ axes, axis=0)
    order = np.argsort(sizes)
    longest: F64 = axes[:, order[2]]
    return longest if sizes[order[2]] >= LONG * sizes[order[1]] else None
