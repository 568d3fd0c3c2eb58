"""The library: the table of species that ships with the application.

Density, shrinkage and hardness are rounded averages from the publications in SOURCES; wood varies by
a tenth and more from tree to tree, so they plan a board and do not measure one. Rows marked ``EST``
have at least one figure for which we had no published average: it is taken from the nearest relative
in the table and should be read as an estimate. Colours, latewood contrast and ring widths are our own
judgement of sanded end grain and come from no publication.

Dust of oak and beech: Directive 2004/37/EC, annex I, and IARC Monograph 100C (2012), wood dust, group 1. Trade in African
padauk: CITES appendix II, Pterocarpus spp. of Africa, since 2023.
"""

from __future__ import annotations

from .model import Caution, Porosity, Tone, Wood

SOURCES: dict[str, str] = {
    "WH": "Wood Handbook: wood as an engineering material, FPL-GTR-282, USDA Forest Service, 2021, "
    "tables 4-3, 4-4, 5-3 and 5-5",
    "HA": "Holzatlas, 6th edition, Fachbuchverlag Leipzig, 2007, species sheets",
    "WD": "WOOD! Identifying and using hundreds of woods worldwide, 2015, species profiles",
    "OWN": "this shop's own figures",
    "EST": "estimated from the nearest relative in this table",
}

_R, _S, _D, _N = Porosity.RING, Porosity.SEMI_RING, Porosity.DIFFUSE, Porosity.NONE
_LIGHT, _MID, _DARK = Tone.LIGHT, Tone.MID, Tone.DARK
_DUST, _ALLERGY, _TRADE = Caution.SENSITISING_DUST, Caution.ALLERGY, Caution.TRADE_CONTROL
_POISON, _SEEPS = Caution.NOT_UNDER_FOOD, Caution.SEEPS
_NOSE, _DOUBT, _BLEEDS = Caution.NASAL_CANCER, Caution.DOUBTED_UNDER_FOOD, Caution.BLEEDS

# fmt: off
# key, name, botanical, kg/m³, tangential %, radial %, Janka N, pores, tone, raw, oiled, ring, spacing, source, cautions
_ROWS: list[tuple[str, str, str, float, float, float, float, Porosity, Tone, str, str, float, float, str, tuple[Caution, ...]]] = [
    ("apple", "Apple", "Malus domestica", 830, 10.1, 5.6, 7700, _D, _MID, "#c79f80", "#a9714c", 0.20, 2.0, "WD", ()),
    ("ash", "Ash", "Fraxinus excelsior", 680, 7.8, 4.6, 6580, _R, _LIGHT, "#dccaa6", "#cba773", 0.34, 3.0, "WD", ()),
    ("beech", "Beech", "Fagus sylvatica", 710, 11.6, 5.7, 6460, _D, _LIGHT, "#d9b896", "#c6925f", 0.20, 2.4, "WD", (_NOSE,)),
    ("birch", "Silver birch", "Betula pendula", 640, 7.8, 5.3, 5360, _D, _LIGHT, "#e2cfac", "#d3b07c", 0.12, 2.6, "WD", ()),
    ("black-cherry", "Black cherry", "Prunus serotina", 560, 7.1, 3.7, 4230, _D, _MID, "#b98260", "#93522f", 0.22, 2.6, "WH", ()),
    ("black-walnut", "Black walnut", "Juglans nigra", 610, 7.8, 5.5, 4490, _S, _DARK, "#75573f", "#4b3020", 0.30, 3.2, "WH", (_DUST, _ALLERGY)),
    ("bog-oak", "Bog oak", "Quercus robur, long buried", 700, 9.0, 5.0, 5000, _R, _DARK, "#4f443b", "#352b24", 0.34, 1.8, "EST", (_NOSE,)),
    ("box", "Box", "Buxus sempervirens", 975, 10.5, 7.0, 12610, _D, _LIGHT, "#dfc585", "#cfa653", 0.10, 0.9, "EST", (_DUST,)),
    ("bubinga", "Bubinga", "Guibourtia spp.", 890, 8.4, 6.0, 10720, _D, _DARK, "#99583f", "#6f2f20", 0.20, 2.8, "WD", (_DUST, _TRADE)),
    ("chestnut", "Sweet chestnut", "Castanea sativa", 590, 6.6, 4.1, 3030, _R, _MID, "#c2a177", "#a27847", 0.34, 3.4, "WD", (_ALLERGY,)),
    ("elm", "Wych elm", "Ulmus glabra", 605, 7.5, 4.8, 3750, _R, _MID, "#b18c66", "#885b36", 0.34, 2.6, "EST", ()),
    ("european-cherry", "Wild cherry", "Prunus avium", 600, 8.7, 5.0, 5120, _S, _MID, "#c3906a", "#a4673f", 0.24, 2.6, "HA", ()),
    ("european-walnut", "Common walnut", "Juglans regia", 640, 7.5, 5.5, 5410, _S, _DARK, "#8b6d52", "#5d3f29", 0.30, 3.0, "WD", (_DUST, _ALLERGY)),
    ("hard-maple", "Hard maple", "Acer saccharum", 705, 9.9, 4.8, 6450, _D, _LIGHT, "#e6d3b0", "#d8b987", 0.18, 2.0, "WH", ()),
    ("hickory", "Shagbark hickory", "Carya ovata", 800, 10.5, 7.0, 8360, _R, _LIGHT, "#d0ae84", "#b8875a", 0.36, 2.2, "WD", (_ALLERGY,)),
    ("holly", "Holly", "Ilex aquifolium", 790, 9.5, 4.5, 6600, _D, _LIGHT, "#ece6d3", "#dfd0ad", 0.08, 1.6, "EST", ()),
    ("hornbeam", "Hornbeam", "Carpinus betulus", 735, 11.5, 6.8, 7260, _D, _LIGHT, "#e3d5b8", "#d4bb8f", 0.14, 1.9, "WD", ()),
    ("iroko", "Iroko", "Milicia excelsa", 660, 3.8, 2.8, 5610, _D, _MID, "#ab7f4a", "#86572c", 0.16, 3.5, "WD", (_DUST, _DOUBT)),
    ("jatoba", "Jatoba", "Hymenaea courbaril", 910, 8.5, 4.5, 10450, _D, _DARK, "#9c5f3e", "#743a22", 0.18, 3.0, "WH", (_DUST,)),
    ("laburnum", "Laburnum", "Laburnum anagyroides", 750, 7.5, 4.5, 7000, _R, _DARK, "#7a6138", "#4f3a1e", 0.34, 1.8, "EST", (_POISON, _DUST)),
    ("lime", "Lime", "Tilia × europaea", 535, 9.1, 5.5, 3110, _D, _LIGHT, "#e4d2aa", "#d6b87f", 0.10, 2.6, "HA", ()),
    ("oak", "European oak", "Quercus robur", 675, 8.4, 4.7, 4980, _R, _MID, "#c3a377", "#a17a48", 0.34, 2.2, "WD", (_NOSE,)),
    ("olive", "Olive", "Olea europaea", 990, 8.8, 5.4, 12010, _D, _MID, "#c0a06a", "#99713a", 0.55, 1.6, "WD", (_ALLERGY,)),
    ("padauk", "Padauk", "Pterocarpus soyauxii", 745, 5.2, 3.3, 8760, _D, _DARK, "#b0583a", "#863422", 0.18, 3.2, "WD", (_DUST, _TRADE, _DOUBT, _BLEEDS)),
    ("pear", "Pear", "Pyrus communis", 690, 11.3, 3.9, 7380, _D, _MID, "#cfa68b", "#b67c5c", 0.12, 1.8, "WD", ()),
    ("plum", "Plum", "Prunus domestica", 795, 9.0, 5.0, 6900, _D, _DARK, "#98675a", "#6f4034", 0.34, 1.9, "EST", ()),
    ("purpleheart", "Purpleheart", "Peltogyne spp.", 905, 6.1, 3.2, 8140, _D, _DARK, "#7d4a66", "#56284a", 0.12, 3.0, "WH", (_DUST, _BLEEDS)),
    ("red-oak", "Red oak", "Quercus rubra", 700, 8.6, 4.0, 5740, _R, _MID, "#c69c78", "#a6714a", 0.34, 3.0, "WH", (_NOSE, _SEEPS)),
    ("robinia", "Robinia", "Robinia pseudoacacia", 770, 7.2, 4.6, 7560, _R, _MID, "#b59c66", "#94723c", 0.34, 2.8, "WH", (_DUST, _DOUBT)),
    ("rosewood", "Indian rosewood", "Dalbergia latifolia", 830, 5.9, 2.7, 10870, _D, _DARK, "#65453f", "#3e2424", 0.34, 2.6, "WD", (_DUST, _TRADE, _DOUBT)),
    ("rowan", "Rowan", "Sorbus aucuparia", 770, 9.5, 5.5, 6500, _D, _MID, "#caa682", "#ac7d54", 0.16, 1.6, "EST", ()),
    ("sapele", "Sapele", "Entandrophragma cylindricum", 670, 7.2, 4.8, 6280, _D, _DARK, "#955f43", "#6c3924", 0.16, 2.8, "WD", (_DUST,)),
    ("sycamore", "Sycamore", "Acer pseudoplatanus", 615, 7.8, 4.5, 4680, _D, _LIGHT, "#eadcbd", "#dec597", 0.14, 2.4, "WD", ()),
    ("teak", "Teak", "Tectona grandis", 655, 5.8, 2.5, 4740, _R, _MID, "#ab824f", "#875a2c", 0.34, 3.2, "WH", (_DUST,)),
    ("wenge", "Wenge", "Millettia laurentii", 870, 8.1, 4.8, 8600, _D, _DARK, "#554237", "#33241d", 0.38, 1.8, "WD", (_DUST, _DOUBT)),
    ("white-oak", "White oak", "Quercus alba", 755, 10.5, 5.6, 6050, _R, _MID, "#c4a87f", "#a38050", 0.34, 2.0, "WH", (_NOSE,)),
    ("yew", "Yew", "Taxus baccata", 675, 5.8, 4.0, 6760, _N, _MID, "#bf7a47", "#995427", 0.34, 1.0, "EST", (_POISON, _DUST)),
]
# fmt: on

_COLUMNS = [name for name in Wood.model_fields if name != "look"]

SPECIES: tuple[Wood, ...] = tuple(Wood.model_validate(dict(zip(_COLUMNS, row, strict=True))) for row in _ROWS)
