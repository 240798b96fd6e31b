"""Light of colours as they are typed."""

from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: What each of red, green and blue light adds to brightness (Rec. ITU-R BT.709).
_BRIGHT = (0.2126, 0.7152, 0.0722)


def linear(colour: Floats) -> Floats:
    """sRGB, 0 to 1, to linear light (IEC 61966-2-1)."""
    return np.where(colour <= 0.04045, colour / 12.92, ((colour + 0.055) / 1.055) ** 2.4)


def typed(light: Floats) -> Floats:
    """Linear light to sRGB, 0 to 1 (IEC 61966-2-1)."""
    return np.where(light <= 0.0031308, light * 12.92, 1.055 * np.maximum(light, 1e-9) ** (1 / 2.4) - 0.055)


def light_of(colour: str) -> Floats:
    """(3,) the linear light of `#rrggbb`."""
    return linear(np.array([int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]))


def brightness(colour: str) -> float:
    """How bright `#rrggbb` is, of white."""
    return float(light_of(colour) @ _BRIGHT)
