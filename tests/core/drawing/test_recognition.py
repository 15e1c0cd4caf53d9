"""Materials are found by the words that real files hold."""

import pytest

from edge_slice.core.drawing import default_standard
from edge_slice.core.drawing.rules.word_languages import words_by_language
from edge_slice.core.model import Material

STANDARD = default_standard()
NAMES = {
    "reinforced concrete": "C30/37 Stahlbeton · Béton armé C25 · Calcestruzzo armato · Hormigón armado · Armert betong",
    "concrete": "Concrete, cast in place, grey · Sichtbeton · Betong · Betoni · Hormigón · CALCESTRUZZO",
    "precast": "Precast panels · Stahlbeton-Fertigteil · Betonelement",
    "block": "Concrete masonry units · Porenbeton 365 · Lättklinkerblock · Parpaing 20 · Kalkzandsteen",
    "brick": "Brick, common · Klinkermauerwerk · Maçonnerie de brique · Metselwerk · Tegelsten · Tiili",
    "steel": "Steel, 45-345 · Stahl S235 · Acier galvanisé · Staal · Stål · Teräs",
    "stone": "Limestone · Naturstein · Pierre naturelle · Pietra serena · Natuursteen · Skifer",
    "timber": "Softwood, lumber · Brettschichtholz · Bauholz · Bois massif · Madera laminada · Legno"
    " · Vuren · Limträ · Puu",
    "plywood": "Plywood, sheathing grade · OSB 3 · Sperrholz · Contreplaqué · Krydsfiner",
    "board": "MDF · Spanplatte · Tablero · Spånskiva",
    "metal": "Titanzink · Copper · Tôle laquée · Lamiera grecata · Sheet metal",
    "aluminium": "Aluminium, anodised · Aluminum · Alluminio",
    "glass": "Glazing, double · Isolierverglasung · Vitrage · Vidrio · Vetro · Lasi",
    "screed": "Cement screed · Zementestrich · Chape ciment · Massetto · Dekvloer · Påstøp",
    "tile": "Ceramic tile · Feinsteinzeug · Carrelage · Azulejo · Dakpan · Takpanna",
    "rigid insulation": "Insulation / thermal barriers - rigid insulation · XPS 160"
    " · Hartschaum · Dämmung · Cellplast · Isolant",
    "soft insulation": "insulation, thermal barriers, semi-rigid · Mineralwolle · Laine de verre · Lana de roca"
    " · Glasuld · Kivivilla · Mineral wool between studs",
    "plaster": "Gypsum wall board · Kalkputz · Plaque de plâtre BA13 · Cartongesso · Gipsskiva",
    "membrane": "Vapour retarder · Dampfbremse · Pare-vapeur · Barriera al vapore · Takpapp · Höyrynsulku · Folie",
    "gravel": "Gravel · Kies 16/32 · Gravier · Ghiaia · Grus",
    "air": "Air · Luftschicht · Lame d'air · Cámara de aire · Spouw · Luftspalte",
    "earth": "Earth · Erdreich · Terre végétale · Terreno · Jord",
    "green roof": "Extensive green roof · Dachbegrünung · Toiture végétalisée · Grönt tak",
    "other": "Default · Material 12 · <unnamed> · 木材",
}


@pytest.mark.parametrize(("expected", "name"), [(k, n) for k, names in NAMES.items() for n in names.split(" · ")])
def test_names_of_real_files(expected: str, name: str) -> None:
    assert STANDARD.material_class(Material(name)) == expected


@pytest.mark.parametrize(
    ("expected", "word"),
    [(k, w) for k, rule in STANDARD.materials.items() for w in (*rule.words, *rule.weak_words) if k != "framing"],
)
def test_every_word_leads_to_its_class(expected: str, word: str) -> None:
    for name in (word, word.upper(), f"12 {word} (x)"):
        assert STANDARD.material_class(Material(name)) == expected


@pytest.mark.parametrize("word", STANDARD.materials["framing"].words)
def test_layers_of_spaced_members_are_framing_whatever_they_are_made_of(word: str) -> None:
    for substance in ("", "metal", "timber", "steel"):
        assert STANDARD.layer_class(Material(f"{substance} {word}"), 0.092) == "framing"
    assert STANDARD.layer_class(Material(f"mineral wool between {word}"), 0.092) == "soft insulation"


def test_thick_metal_is_no_sheet() -> None:
    assert STANDARD.layer_class(Material("Metal"), 0.09) == "framing"
    assert STANDARD.layer_class(Material("Zinc"), 0.0008) == "metal"
    assert STANDARD.layer_class(Material("Steel plate"), 0.02) == "steel"
    assert STANDARD.layer_class(Material("Concrete"), 0.9) == "concrete"
    assert STANDARD.material_class(Material("Timber stud")) == "timber"


def test_a_category_counts_where_the_name_says_nothing() -> None:
    assert STANDARD.material_class(Material("M-12", "Steel")) == "steel"
    assert STANDARD.material_class(Material("Oak", "wood products")) == "timber"


def test_every_shipped_word_is_of_one_language() -> None:
    """So that an office that needs one language sees, and leaves out, whole lists."""
    by_language = words_by_language()
    listed = [word for words in by_language.values() for word in words]
    shipped = {word for rule in STANDARD.materials.values() for word in (*rule.words, *rule.weak_words)}
    assert len(listed) == len(set(listed))
    assert set(listed) == shipped
    assert all(len(words) > 20 for words in by_language.values())


@pytest.mark.parametrize(
    ("material", "is_a", "words"),
    [
        (Material("Sichtbeton, Klasse 3"), "concrete", ("beton",)),
        (
            Material("Studs with mineral wool", "soft insulation"),
            "soft insulation",
            ("mineral wool", "soft insulation"),
        ),
        (Material("ZZ-17"), "other", ()),
    ],
)
def test_the_words_that_say_it_are_told(material: Material, is_a: str, words: tuple[str, ...]) -> None:
    assert STANDARD.material_class(material) == is_a
    assert STANDARD.words_for(material, is_a) == words
