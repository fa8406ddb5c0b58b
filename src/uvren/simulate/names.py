"""Invented names from invented syllables."""

from __future__ import annotations

import numpy as np

_FIRST = (
    *("Bal", "Bris", "Cal", "Dren", "Els", "Fal", "Gar", "Hal", "Ind", "Jor", "Kel", "Lum", "Mas"),
    *("Nor", "Odd", "Or", "Pell", "Quor", "Ros", "Seth", "Tor", "Ul", "Vand", "Yel", "Zan"),
)
_MIDDLE = ("", "", "", "a", "e", "i", "o")
_LAST = (
    *("bey", "cor", "dane", "dell", "drin", "drow", "feth", "gar", "kell", "lith", "mar", "mund"),
    *("nock", "quen", "rell", "rin", "sk", "tam", "thorn", "tis", "van", "vey", "vic", "wen"),
)
_INITIALS = "ABDEFGHIJKLMNOPRSTV"


def surnames(count: int, random: np.random.Generator) -> list[str]:
    """``count`` different surnames, no two beginning with the same three letters."""
    names: list[str] = []
    while len(names) < count:
        name = "".join(str(random.choice(part)) for part in (_FIRST, _MIDDLE, _LAST))
        alike = any(name[:3] == other[:3] for other in names) and len(names) < len(_FIRST) - 2
        stutters = any(a == b == c for a, b, c in zip(name, name[1:], name[2:], strict=False))
        if name not in names and not alike and not stutters:
            names.append(name)
    return names


def initial(random: np.random.Generator) -> str:
    return str(random.choice(list(_INITIALS)))
