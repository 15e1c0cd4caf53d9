"""Quantities of a file are read in metres, whatever its units; what they are made of is left out."""

from pathlib import Path

import ifcopenshell
import ifcopenshell.api.pset
import ifcopenshell.api.unit
import pytest

from edge_slice.core.model.files.any_file import read_model


@pytest.mark.parametrize(
    ("prefix", "area", "volume"), [("MILLI", None, None), (None, None, None), ("MILLI", "CENTI", "MILLI")]
)
def test_quantities_are_in_metres(
    hut_file: Path, tmp_path: Path, prefix: str | None, area: str | None, volume: str | None
) -> None:
    file = ifcopenshell.open(str(hut_file))
    wall = file.by_type("IfcWall")[0]
    units = [
        ifcopenshell.api.unit.add_si_unit(file, unit_type=kind, prefix=of)
        for kind, of in (("LENGTHUNIT", prefix), ("AREAUNIT", area), ("VOLUMEUNIT", volume))
    ]
    ifcopenshell.api.unit.assign_unit(file, units=units)
    said = ifcopenshell.api.pset.add_qto(file, product=wall, name="Qto_WallBaseQuantities")
    factor = {None: 1.0, "CENTI": 1e-2, "MILLI": 1e-3}
    values = {
        "Length": 4.0 / factor[prefix],
        "NetSideArea": 9.5 / factor[area] ** 2,
        "NetVolume": 2.5 / factor[volume] ** 3,
    }
    ifcopenshell.api.pset.edit_qto(file, qto=said, properties=values)
    path = tmp_path / "measured.ifc"
    file.write(str(path))
    found = dict(next(e for e in read_model(path).elements if e.guid == wall.GlobalId).properties)
    assert float(found["Qto_WallBaseQuantities: Length"]) == pytest.approx(4.0)
    assert float(found["Qto_WallBaseQuantities: NetSideArea"]) == pytest.approx(9.5)
    assert float(found["Qto_WallBaseQuantities: NetVolume"]) == pytest.approx(2.5)
