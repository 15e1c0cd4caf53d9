"""A model with the ground of its project: cut, seen and picked like ground that its file has."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Element, Material, Model
from edge_slice.core.model.ground.body import body_of
from edge_slice.core.model.ground.documents import Ground, Grounds
from edge_slice.core.model.ground.earthworks import Rise, rise_of
from edge_slice.core.model.ground.made import GroundProblem, model_ground, pits_of, relief_of
from edge_slice.core.model.ground.relief import Laid, Relief, departing, lowered, overlaid, replaced
from edge_slice.core.model.mesh.joining import joined, without

F64 = NDArray[np.float64]
EXISTING, PROPOSED = "project-ground-existing", "project-ground-proposed"  # the GlobalIds of the project's ground
UNDER = 2.0  # metres that its body goes below the building and itself


@dataclass(frozen=True)
class Reliefs:
    """The ground as it is, None where there is none, and as it shall be, None where nothing is said of that."""

    existing: Relief | None
    proposed: Relief | None

    @cached_property
    def _laid(self) -> Laid | None:
        """The proposed ground (of source 1) over the one that is there, where both are said."""
        if self.existing is None or self.proposed is None:
            return None
        return overlaid(self.existing, Relief.of(self.proposed.cells, self.proposed.planes, 1))

    @property
    def former(self) -> Relief | None:
        """What is there where the proposed one departs from it."""
        return None if self._laid is None else departing(self._laid)

    @property
    def rise(self) -> Rise | None:
        """How much the ground rises; None where only one is said."""
        return None if self._laid is None else rise_of(self._laid)

    @property
    def drawn(self) -> Relief | None:
        """What a building stands in: 0 is the source of what is there, 1 of what is proposed."""
        if self._laid is not None:
            return replaced(self._laid)
        if self.proposed is None:
            return self.existing
        return Relief.of(self.proposed.cells, self.proposed.planes, 1)


def reliefs_of(model: Model, grounds: Grounds) -> Reliefs:
    """The grounds of a project with a model that has none of the project's yet. Raises `GroundProblem`."""
    existing = relief_of(model, grounds.existing) if grounds.existing else model_ground(model)
    proposed = relief_of(model, grounds.proposed) if grounds.proposed else None
    return Reliefs(existing, proposed)


Made = Callable[[Model, Grounds], Reliefs]
NOT_MADE = "The project's ground can't be made: "


def ground_problem(model: Model) -> str:
    """Why a model does not stand in the ground of its project, empty where it does."""
    return next((p for p in model.problems if p.startswith(NOT_MADE)), "")


def with_ground(model: Model, grounds: Grounds, made: Made = reliefs_of) -> Model:
    """The model in the ground of its project, instead of its own; with pits where its floors lie in it. The same model
    where the project has none; where it can't be made any more, the model with a problem that says why. `made`: what
    gives its reliefs, which somebody may have already."""
    if not grounds.any:
        return model
    try:
        reliefs = made(model, grounds)
    except GroundProblem as problem:
        return replace(model, problems=(*model.problems, f"{NOT_MADE}{problem}."))
    relief = reliefs.drawn
    assert relief is not None
    relief = lowered(relief, pits_of(model, relief.span[1]))
    own = [k for k, e in enumerate(model.elements) if e.kind == "ground"]
    bottom = min(float(model.bounds[0][2]), relief.span[0]) - UNDER
    corners, triangles, source = body_of(relief, bottom)
    used, of = np.unique(source, return_inverse=True)
    elements, materials = [], list(model.materials)
    said: dict[int, tuple[str, str, Ground | None]] = {
        0: (EXISTING, "Ground", grounds.existing),
        1: (PROPOSED, "Proposed ground", grounds.proposed),
    }
    for number in used.tolist():
        guid, name, ground = said[number]
        wanted = ground.material if ground else _main_material(model, own)
        names = [m.name for m in materials]
        if wanted not in names:
            materials.append(Material(wanted))
            names.append(wanted)
        elements.append(Element(guid, name, "ground", -1, names.index(wanted), content=grounds.digest))
    mesh, joints = without(model.mesh, model.joints, own)
    whole = joined(mesh, corners, triangles, len(model.elements) + of)
    kept = tuple(k for k in model.leaking if k not in own)
    found = replace(
        model,
        mesh=whole,
        elements=(*model.elements, *elements),
        materials=tuple(materials),
        leaking=kept,
        former_ground=reliefs.former,
    )
    found.__dict__["joints"] = joints  # ground runs on in nothing, so that these are all there are
    return found


def _main_material(model: Model, ground: list[int]) -> str:
    """What most of a model's ground is made of."""
    areas = np.abs(model.mesh.volumes(len(model.elements)))
    known = [k for k in ground if model.elements[k].material >= 0]
    return model.materials[model.elements[max(known, key=lambda k: areas[k])].material].name if known else "Earth"
