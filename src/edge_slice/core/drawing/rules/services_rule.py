"""How plans draw services: when a run is one line, and by which letters its system is known."""

from __future__ import annotations

from functools import cached_property
from typing import Annotated

from pydantic import Field

from edge_slice.core.drawing.rules.hatch_rules import Data
from edge_slice.core.drawing.rules.recognition import Words
from edge_slice.core.model import Run

Letters = Annotated[str, Field(min_length=1, max_length=8)]
OWN = 5  # letters of a name that is short enough to stand on a line itself
# words of names in English, German, French, Italian and Spanish, and of purposes (ISO 16739,
# IfcDistributionSystemEnum, small letters)
SHIPPED_LETTERS: dict[str, tuple[str, ...]] = {
    "SA": ("supply air", "supply duct", "zuluft", "air soufflé", "soufflage", "aria di mandata", "impulsión"),
    "EA": ("extract air", "return air", "abluft", "air extrait", "reprise", "aria di ripresa", "retorno de aire"),
    "OA": ("outside air", "fresh air", "aussenluft", "außenluft", "air neuf", "aria esterna", "aire exterior"),
    "XA": ("exhaust air", "exhaust", "fortluft", "air rejeté", "aria espulsa", "aire expulsado"),
    "V": ("ventilation", "air conditioning", "airconditioning", "lüftung", "ventilazione", "ventilación"),
    "CW": ("cold water", "kaltwasser", "eau froide", "acqua fredda", "agua fría", "domesticcoldwater", "watersupply"),
    "HW": ("hot water", "warmwasser", "eau chaude", "acqua calda", "agua caliente", "domestichotwater"),
    "SW": ("sea water", "seewasser", "meerwasser", "eau de mer", "acqua di mare", "agua de mar"),
    "FW": ("foul water", "waste water", "sewage", "soil stack", "schmutzwasser", "abwasser", "eaux usées",
           "acque nere", "aguas residuales", "wastewater", "drainage"),
    "RW": ("rainwater", "storm water", "regenwasser", "eaux pluviales", "acque piovane", "aguas pluviales",
           "stormwater"),
    "HF": ("heating flow", "heizung vorlauf", "départ chauffage", "mandata riscaldamento", "heating"),
    "HR": ("heating return", "heizung rücklauf", "retour chauffage", "ritorno riscaldamento"),
    "CH": ("chilled water", "kältewasser", "eau glacée", "acqua refrigerata", "agua refrigerada", "chilledwater"),
    "G": ("gas", "gaz", "fuel"),
    "FP": ("fire protection", "sprinkler", "feuerlöschwasser", "fireprotection"),
    "CA": ("compressed air", "druckluft", "air comprimé", "aria compressa", "aire comprimido", "compressedair"),
    "E": ("electrical", "power", "elektro", "starkstrom", "lighting", "cable tray"),
}  # fmt: skip


class ServicesRule(Data):
    """Of services in plans: a run that is narrower on paper than `single_under` mm is one line, a wider one two with
    its axis; `letters` stand on it, by words in the name or the purpose of its system."""

    single_under: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] = 2.0
    letters: Annotated[dict[Letters, tuple[str, ...]], Field(max_length=100)] = Field(default=SHIPPED_LETTERS)

    @cached_property
    def _words(self) -> Words:
        return Words(self.letters)

    def letters_of(self, run: Run) -> str:
        """What stands on a run: by the name of its system, else by its purpose, else its name where that is short."""
        known = self._words.found(run.system) or self._words.found(run.purpose)
        return known or (run.system if len(run.system) <= OWN else "")
