"""Student's t for expanded uncertainties (JCGM 100:2008 (GUM) G.3).

Written here, and checked against SciPy in the tests, because SciPy's own takes longer to load than the window.
"""

from __future__ import annotations

import math
from functools import lru_cache
from statistics import NormalDist

_TINY = 1e-300


def student_t95(freedom: float) -> float:
    """Student's t for a two-sided 95 % interval; ``freedom`` need not be whole and may be infinite."""
    return student_t(0.025, freedom)


@lru_cache(maxsize=1024)
def student_t(tail: float, freedom: float) -> float:
    """The t that Student's t exceeds with a chance of ``tail``, below a half; ``freedom`` may be infinite."""
    normal = NormalDist().inv_cdf(1 - tail)
    if freedom > 1e12:
        return normal
    if freedom > 1000:
        return normal + _beyond_normal(normal, freedom)
    if not freedom > 0:
        raise ValueError("degrees of freedom must be larger than zero")
    guess, low, high = normal + _beyond_normal(normal, max(freedom, 3.0)), normal, math.inf
    for _ in range(200):
        excess = student_tail(guess, freedom) - tail
        low, high = (guess, high) if excess > 0 else (low, guess)
        better = guess + excess / _density(guess, freedom)
        if not low <= better <= high:
            better = 2 * guess if math.isinf(high) else (low + high) / 2
        if abs(better - guess) <= 1e-14 * guess:
            break
        guess = better
    return guess


def _density(t: float, freedom: float) -> float:
    """Density of Student's t."""
    log = math.lgamma((freedom + 1) / 2) - math.lgamma(freedom / 2) - (freedom + 1) / 2 * math.log1p(t * t / freedom)
    return math.exp(log) / math.sqrt(freedom * math.pi)


def _beyond_normal(z: float, freedom: float) -> float:
    """What Student's t adds to the normal quantile ``z`` (Abramowitz and Stegun 26.7.5, from memory)."""
    first = (z**3 + z) / 4
    second = (5 * z**5 + 16 * z**3 + 3 * z) / 96
    third = (3 * z**7 + 19 * z**5 + 17 * z**3 - 15 * z) / 384
    return first / freedom + second / freedom**2 + third / freedom**3


def student_tail(t: float, freedom: float) -> float:
    """P(T > t) for t > 0: I_x(ν/2, 1/2)/2 at x = ν/(ν + t²), the regularised incomplete beta function.

    By its continued fraction (Abramowitz and Stegun 26.5.8, from memory), on the side where that converges fast.
    """
    whole = freedom + t * t
    return _beta_share(freedom / whole, t * t / whole, freedom / 2, 0.5) / 2


def f_tail(f: float, above: float, below: float) -> float:
    """P(F > f) of Fisher's F with ``above`` and ``below`` degrees of freedom: I_x(ν₂/2, ν₁/2) at x = ν₂/(ν₂ + ν₁·f)."""
    if not (above > 0 and below > 0):
        raise ValueError("degrees of freedom must be larger than zero")
    if not f > 0:
        return 1.0
    if math.isinf(f):
        return 0.0
    whole = below + above * f
    return _beta_share(below / whole, above * f / whole, below / 2, above / 2)


def _beta_share(x: float, rest: float, a: float, b: float) -> float:
    """The regularised incomplete beta function I_x(a, b), 0 < x < 1 and ``rest`` = 1 − x."""
    if x <= 0 or rest <= 0:
        return 0.0 if x <= 0 else 1.0
    front = math.exp(math.lgamma(a + b) - math.lgamma(a) - math.lgamma(b) + a * math.log(x) + b * math.log(rest))
    if x < (a + 1) / (a + b + 2):
        return front * _fraction(x, a, b) / a
    return 1 - front * _fraction(rest, b, a) / b


def _fraction(x: float, a: float, b: float) -> float:
    """The continued fraction of the incomplete beta function, by the modified method of Lentz."""
    c, d = 1.0, 1.0 / _away(1 - (a + b) * x / (a + 1))
    value = d
    for m in range(1, 10_000):
        for term in (
            m * (b - m) * x / ((a + 2 * m - 1) * (a + 2 * m)),
            -(a + m) * (a + b + m) * x / ((a + 2 * m) * (a + 2 * m + 1)),
        ):
            d = 1.0 / _away(1 + term * d)
            c = _away(1 + term / c)
            value *= c * d
        if abs(c * d - 1) < 1e-15:
            break
    return value


def _away(value: float) -> float:
    """``value``, kept from zero."""
    return value if abs(value) > _TINY else _TINY
