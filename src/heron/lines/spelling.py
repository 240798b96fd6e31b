"""What the letters of a word sound like, roughly: enough for a stand-in voice and for a mouth.

English spelling does not say how a word is spoken; this reads each group of letters in the way that is commonest. Shapes
of the mouth are ours; formants are those of men in Peterson and Barney 1952 (from memory).
"""

import re
from dataclasses import dataclass
from functools import lru_cache

from heron.lines.law import spoken

Formants = tuple[float, float, float]


@dataclass(frozen=True)
class Phone:
    """A sound of speech.

    Attributes:
        length: its share of the word, against those of others.
        open, wide: the mouth, 0 to 1 and −1 (round) to 1.
        formants: of its voice, Hz; None where it has none.
        voice, hiss: how loud its voice and its noise are, 0 to 1.
        band: of the noise, Hz.
        shut: the lips are closed.
    """

    length: float
    open: float
    wide: float
    formants: Formants | None = None
    voice: float = 0.0
    hiss: float = 0.0
    band: tuple[float, float] = (0.0, 0.0)
    shut: bool = False

    @property
    def vowel(self) -> bool:
        """Whether a syllable can stand on it."""
        return self.voice == 1.0


_NASAL, _LOW = (250.0, 1300.0, 2400.0), (300.0, 1200.0, 2400.0)
_SHEE, _BED, _BAR = (270.0, 2290.0, 3010.0), (530.0, 1840.0, 2480.0), (730.0, 1090.0, 2440.0)
_LAW, _BOOT, _HUT, _SIT = (570.0, 840.0, 2410.0), (300.0, 870.0, 2240.0), (640.0, 1190.0, 2390.0), (390.0, 1990.0, 2550.0)  # fmt: skip


def _vowel(open_: float, wide: float, formants: Formants, length: float = 1.6) -> Phone:
    return Phone(length, open_, wide, formants, voice=1.0)


_EE, _EH, _AH, _AW, _OO = (
    _vowel(0.30, 0.8, _SHEE),
    _vowel(0.50, 0.3, _BED),
    _vowel(0.90, 0.15, _BAR),
    _vowel(0.60, -0.6, _LAW),
    _vowel(0.28, -0.9, _BOOT),
)
_IH, _UH = _vowel(0.35, 0.5, _SIT, 1.3), _vowel(0.50, 0.2, _HUT, 1.3)
_M = Phone(0.9, 0.0, 0.0, _NASAL, voice=0.35, shut=True)
_B = Phone(0.7, 0.0, 0.0, _NASAL, voice=0.08, shut=True)
_P = Phone(0.8, 0.0, 0.0, hiss=0.05, band=(400, 1500), shut=True)
_D = Phone(0.6, 0.18, 0.2, _LOW, voice=0.08, hiss=0.05, band=(2500, 5000))
_T = Phone(0.7, 0.18, 0.2, hiss=0.12, band=(2500, 6000))
_K = Phone(0.7, 0.18, 0.2, hiss=0.10, band=(1200, 3000))
_N = Phone(0.8, 0.18, 0.2, (250.0, 1500.0, 2500.0), voice=0.4)
_L, _R = Phone(0.8, 0.30, 0.1, (360.0, 1300.0, 2700.0), voice=0.5), Phone(0.8, 0.18, -0.2, (330.0, 1060.0, 1380.0), voice=0.5)  # fmt: skip
_W, _Y = Phone(0.7, 0.15, -0.9, _BOOT, voice=0.5), Phone(0.6, 0.25, 0.7, _SHEE, voice=0.5)
_S, _Z = Phone(1.0, 0.18, 0.2, hiss=0.30, band=(4000, 8000)), Phone(0.9, 0.18, 0.2, _LOW, voice=0.2, hiss=0.18, band=(4000, 8000))  # fmt: skip
_SH = Phone(1.0, 0.18, -0.35, hiss=0.30, band=(2000, 6000))
_F, _V = Phone(0.9, 0.08, 0.1, hiss=0.12, band=(1500, 8000)), Phone(0.7, 0.08, 0.1, _LOW, voice=0.25, hiss=0.06, band=(1500, 8000))  # fmt: skip
_TH = Phone(0.8, 0.22, 0.1, _LOW, voice=0.15, hiss=0.08, band=(1500, 7000))
_H = Phone(0.5, 0.35, 0.1, hiss=0.08, band=(500, 2500))

#: Longer groups come first.
_GROUPS: dict[str, tuple[Phone, ...]] = {
    "ough": (_AW,), "augh": (_AW,), "eigh": (_EH, _EE), "igh": (_AH, _EE), "tch": (_T, _SH), "tion": (_SH, _UH, _N),
    "ee": (_EE,), "ea": (_EE,), "ie": (_EE,), "ey": (_EE,), "ei": (_EE,), "oo": (_OO,), "ou": (_AH, _OO), "ow": (_AW, _OO),
    "oa": (_AW,), "oi": (_AW, _EE), "oy": (_AW, _EE), "ai": (_EH, _EE), "ay": (_EH, _EE), "au": (_AW,), "aw": (_AW,),
    "ew": (_OO,), "ue": (_OO,), "er": (_UH, _R), "ir": (_UH, _R), "ur": (_UH, _R), "ar": (_AH, _R), "or": (_AW, _R),
    "sh": (_SH,), "ch": (_T, _SH), "th": (_TH,), "ph": (_F,), "wh": (_W,), "ck": (_K,), "ng": (_N,), "qu": (_K, _W),
    "kn": (_N,), "wr": (_R,),
    "a": (_AH,), "e": (_EH,), "i": (_IH,), "o": (_AW,), "u": (_UH,), "y": (_EE,),
    "b": (_B,), "c": (_K,), "d": (_D,), "f": (_F,), "g": (_K,), "h": (_H,), "j": (_D, _SH), "k": (_K,), "l": (_L,),
    "m": (_M,), "n": (_N,), "p": (_P,), "q": (_K,), "r": (_R,), "s": (_S,), "t": (_T,), "v": (_V,), "w": (_W,),
    "x": (_K, _S), "z": (_Z,),
}  # fmt: skip
_READ = re.compile("|".join(_GROUPS))
#: An e at the end of a longer word is not spoken: tide, here; one in the, she, he is.
_SILENT_E = re.compile(r"(?<=[aeiouy][bcdfgklmnprstvz])e(?=s?$)|(?<=[aeiouy]th)e(?=s?$)")
#: Nor one in -ed, but after t and d: missed, looked; waited.
_SILENT_ED = re.compile(r"(?<=[aeiouy])([bcfgklmnprsvwxz]+|[cst]h)ed$")
_DOUBLED = re.compile(r"([bcdfgklmnprstz])\1")


@lru_cache(maxsize=4096)
def phones(word: str) -> tuple[Phone, ...]:
    """The sounds of a word; none of one without letters. Numbers are read out."""
    out: list[Phone] = []
    for part in re.findall(r"[a-z]+", spoken(word).lower().replace("'", "").replace("’", "")):
        bare = _SILENT_E.sub("", _SILENT_ED.sub(r"\1d", _DOUBLED.sub(r"\1", part)))
        bare = "Y" + bare[1:] if bare[:1] == "y" and len(bare) > 1 else bare
        out += [_Y] if bare[:1] == "Y" else []
        for group in _READ.findall(bare):
            out += _GROUPS[group]
    return tuple(out)
