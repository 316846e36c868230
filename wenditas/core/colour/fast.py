"""Scalar helpers that kernels are built from, written for the vectoriser.

Each stands beside a plain reference (`transfer.py`, `oklab.py`) and is held to it by
`tests/core/test_fast.py`. No branches, no library calls, float32 throughout.
"""

import numpy as np

from wenditas.core.colour.oklab import LAB_FROM_LMS, LMS_FROM_RGB
from wenditas.core.colour.transfer import srgb_decode
from wenditas.core.kernel import inline

ZERO, ONE, TWO, THREE, THIRD = (np.float32(v) for v in (0, 1, 2, 3, 1 / 3))

# The power part of the sRGB curve as a polynomial of degree 10 over [KNEE, TOP], fitted so that the error of its
# cube root, which is what Oklab is made from, is even: below 1e-6, and below 3e-6 for the value itself.
KNEE, TOP, TOE = np.float32(0.04045), np.float32(1.25), np.float32(1 / 12.92)
_x = float(KNEE) + (float(TOP) - float(KNEE)) * (np.cos(np.linspace(0, np.pi, 4001)) + 1) / 2
_fit = np.polynomial.Chebyshev.fit(_x, srgb_decode(_x), 10, w=srgb_decode(_x) ** (-2 / 3)).convert(kind=np.polynomial.Polynomial)
P0, P1, P2, P3, P4, P5, P6, P7, P8, P9, P10 = (np.float32(c) for c in _fit.coef)

# arctan on [0, 1]: Abramowitz & Stegun 4.4.49, error <= 2e-8 before rounding; coefficients from memory.
A2, A4, A6, A8 = (np.float32(v) for v in (-0.3333314528, 0.1999355085, -0.1420889944, 0.1065626393))
A10, A12, A14, A16 = (np.float32(v) for v in (-0.0752896400, 0.0429096138, -0.0161657367, 0.0028662257))
HALF_TURN, QUARTER_TURN, DEGREES = np.float32(np.pi), np.float32(np.pi / 2), np.float32(180 / np.pi)
TINY = np.float32(1e-20)
WHOLE_TURN = np.float32(360)

M = tuple(np.float32(v) for v in LMS_FROM_RGB.ravel())
N = tuple(np.float32(v) for v in LAB_FROM_LMS.ravel())
M00, M01, M02, M10, M11, M12, M20, M21, M22 = M
N00, N01, N02, N10, N11, N12, N20, N21, N22 = N

# The inverse cube root of x from its exponent is right to within CBRT_ERROR of its cube; (1 - r)^(-2/3) as a polynomial mends what is left.
CBRT_BIAS, CBRT_ERROR = np.int32(0x54A20000), 0.104
_r = CBRT_ERROR * np.cos(np.linspace(0, np.pi, 2001))
_mend = np.polynomial.Chebyshev.fit(_r, (1 - _r) ** (-2 / 3), 5, w=(1 - _r) ** (2 / 3)).convert(kind=np.polynomial.Polynomial)
R0, R1, R2, R3, R4, R5 = (np.float32(c) for c in _mend.coef)


@inline
def decode(coded):  # type: ignore[no-untyped-def]
    """sRGB-coded to linear; the input is limited to 0-1.25."""
    x = min(max(coded, ZERO), TOP)
    power = P10
    power = power * x + P9
    power = power * x + P8
    power = power * x + P7
    power = power * x + P6
    power = power * x + P5
    power = power * x + P4
    power = power * x + P3
    power = power * x + P2
    power = power * x + P1
    power = power * x + P0
    return x * TOE if x <= KNEE else power


@inline
def cube_root(x):  # type: ignore[no-untyped-def]
    """Cube root of x >= 0 without a division: exponent trick for its inverse, then a polynomial (error < 2e-7)."""
    z = np.float32(x + TINY)
    y = np.int32(CBRT_BIAS - np.int32(np.float32(z.view(np.int32)) * THIRD)).view(np.float32)
    root = z * y * y
    r = ONE - root * y
    p = R5
    p = p * r + R4
    p = p * r + R3
    p = p * r + R2
    p = p * r + R1
    p = p * r + R0
    return root * p


@inline
def smoothstep(low, inverse_width, x):  # type: ignore[no-untyped-def]
    """0 below `low`, 1 above `low + width`, 3t^2 - 2t^3 between (definition)."""
    t = min(max((x - low) * inverse_width, ZERO), ONE)
    return t * t * (THREE - TWO * t)


@inline
def angle(x, y):  # type: ignore[no-untyped-def]
    """atan2(y, x) in degrees for y >= 0, so 0-180."""
    ax = abs(x)
    high, low = max(ax, y), min(ax, y)
    t = low / (high + TINY)
    s = t * t
    poly = A16
    poly = poly * s + A14
    poly = poly * s + A12
    poly = poly * s + A10
    poly = poly * s + A8
    poly = poly * s + A6
    poly = poly * s + A4
    poly = poly * s + A2
    value = t + t * s * poly
    value = QUARTER_TURN - value if y > ax else value
    value = HALF_TURN - value if x < ZERO else value
    return value * DEGREES


@inline
def oklab(r, g, b):  # type: ignore[no-untyped-def]
    """Gamma-coded R'G'B' scalars to Oklab scalars (lightness, a, b)."""
    lr, lg, lb = decode(r), decode(g), decode(b)
    lc = cube_root(M00 * lr + M01 * lg + M02 * lb)
    mc = cube_root(M10 * lr + M11 * lg + M12 * lb)
    sc = cube_root(M20 * lr + M21 * lg + M22 * lb)
    return (
        N00 * lc + N01 * mc + N02 * sc,
        N10 * lc + N11 * mc + N12 * sc,
        N20 * lc + N21 * mc + N22 * sc,
    )


# log2(m) / (m - 1) on [1, 2] and 2**f on [0, 1] as polynomials fitted at Chebyshev nodes; errors below 2e-7.
_m = 1 + (np.cos(np.linspace(0, np.pi, 2001)) + 1) / 2
_log = np.polynomial.Chebyshev.fit(_m[:-1], np.log2(_m[:-1]) / (_m[:-1] - 1), 9).convert(kind=np.polynomial.Polynomial)
L0, L1, L2, L3, L4, L5, L6, L7, L8, L9 = (np.float32(c) for c in _log.coef)
_exp = np.polynomial.Chebyshev.fit(_m - 1, np.exp2(_m - 1), 6).convert(kind=np.polynomial.Polynomial)
E0, E1, E2, E3, E4, E5, E6 = (np.float32(c) for c in _exp.coef)
MANTISSA, ONE_BITS, BIAS, MANTISSA_BITS = np.int32(0x7FFFFF), np.int32(0x3F800000), np.int32(127), np.int32(23)
LEAST_POWER, MOST_POWER = np.float32(-120), np.float32(120)
ENCODE_KNEE, ENCODE_SLOPE, ENCODE_SCALE, ENCODE_OFFSET = (np.float32(v) for v in (0.0031308, 12.92, 1.055, 0.055))
ENCODE_POWER = np.float32(1 / 2.4)
B = tuple(np.float32(v) for v in np.linalg.inv(LMS_FROM_RGB).ravel())
B00, B01, B02, B10, B11, B12, B20, B21, B22 = B
C = tuple(np.float32(v) for v in np.linalg.inv(LAB_FROM_LMS).ravel())
C00, C01, C02, C10, C11, C12, C20, C21, C22 = C


@inline
def log2(x):  # type: ignore[no-untyped-def]
    """Base 2 logarithm of x > 0."""
    bits = np.float32(max(x, TINY)).view(np.int32)
    whole = np.float32((bits >> MANTISSA_BITS) - BIAS)
    m = np.int32((bits & MANTISSA) | ONE_BITS).view(np.float32)
    p = L9
    p = p * m + L8
    p = p * m + L7
    p = p * m + L6
    p = p * m + L5
    p = p * m + L4
    p = p * m + L3
    p = p * m + L2
    p = p * m + L1
    p = p * m + L0
    return whole + (m - ONE) * p


@inline
def exp2(x):  # type: ignore[no-untyped-def]
    """2 to the power of x, |x| <= 120."""
    y = min(max(x, LEAST_POWER), MOST_POWER)
    whole = np.floor(y)
    f = y - whole
    p = E6
    p = p * f + E5
    p = p * f + E4
    p = p * f + E3
    p = p * f + E2
    p = p * f + E1
    p = p * f + E0
    return p * np.int32((np.int32(whole) + BIAS) << MANTISSA_BITS).view(np.float32)


@inline
def power(x, exponent):  # type: ignore[no-untyped-def]
    """x to a power > 0; 0 where x <= 0."""
    return exp2(exponent * log2(x)) if x > ZERO else ZERO


@inline
def encode(linear):  # type: ignore[no-untyped-def]
    """Linear to sRGB-coded; negative values are mirrored through zero."""
    a = abs(linear)
    value = a * ENCODE_SLOPE if a <= ENCODE_KNEE else ENCODE_SCALE * power(a, ENCODE_POWER) - ENCODE_OFFSET
    return value if linear >= ZERO else -value


@inline
def linear_from_oklab(lightness, a, b):  # type: ignore[no-untyped-def]
    """Oklab scalars to linear light, not limited."""
    lc = C00 * lightness + C01 * a + C02 * b
    mc = C10 * lightness + C11 * a + C12 * b
    sc = C20 * lightness + C21 * a + C22 * b
    lc, mc, sc = lc * lc * lc, mc * mc * mc, sc * sc * sc
    return B00 * lc + B01 * mc + B02 * sc, B10 * lc + B11 * mc + B12 * sc, B20 * lc + B21 * mc + B22 * sc


@inline
def room(value, grey):  # type: ignore[no-untyped-def]
    """How far from a grey of 0-1 one may go towards a linear value and stay within 0-1, as a share of the way, 0-1."""
    over = (ONE - grey) / max(value - grey, TINY)
    under = grey / max(grey - value, TINY)
    return min(min(over, under), ONE)


@inline
def rgb_from_oklab(lightness, a, b):  # type: ignore[no-untyped-def]
    """Oklab scalars to gamma-coded R'G'B'; colours outside 0-1 move towards the grey of their lightness until inside."""
    r, g, bl = linear_from_oklab(lightness, a, b)
    grey = min(max(lightness * lightness * lightness, ZERO), ONE)
    t = min(min(room(r, grey), room(g, grey)), room(bl, grey))
    return encode(grey + (r - grey) * t), encode(grey + (g - grey) * t), encode(grey + (bl - grey) * t)


@inline
def angle_of(x, y):  # type: ignore[no-untyped-def]
    """atan2(y, x) in degrees, 0-360."""
    half = angle(x, abs(y))
    return half if y >= ZERO else WHOLE_TURN - half
