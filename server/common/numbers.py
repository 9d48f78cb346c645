"""Numbers as JSON can say them."""

import math


def finite(value: float) -> float | None:
    """To nine places; what isn't a finite number is null, since JSON knows none."""
    return round(float(value), 9) if math.isfinite(value) else None
