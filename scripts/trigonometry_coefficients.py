#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""Prints the constants of src/core/lanes/trigonometry.hpp (needs python3-mpmath).

The polynomials interpolate the remainder of each series at the Chebyshev nodes of
[0, (pi/4)^2] in 60 digits, which is within a small factor of the best approximation.
"""
import mpmath as mp

mp.mp.dps = 60
END = (mp.pi / 4) ** 2


def interpolate(function, count):
    nodes = [END / 2 * (1 + mp.cos((2 * k + 1) * mp.pi / (2 * count))) for k in range(count)]
    rows = mp.matrix(count, count)
    for i, node in enumerate(nodes):
        for j in range(count):
            rows[i, j] = node ** j
    return list(mp.lu_solve(rows, mp.matrix([function(node) for node in nodes])))


def sine_rest(z):
    r = mp.sqrt(z)
    return (mp.sin(r) - r) / r ** 3


def cosine_rest(z):
    return (mp.cos(mp.sqrt(z)) - 1 + z / 2) / z ** 2


def arctangent_rest(z):
    r = mp.sqrt(z)
    return mp.atan(r) / r


def error(function, coefficients):
    worst = 0
    for k in range(1, 2001):
        z = END * k / 2000
        worst = max(worst, abs(function(z) - mp.polyval([mp.mpf(float(c)) for c in reversed(coefficients)], z)))
    return worst


def show(name, coefficients):
    print(f"{name}:")
    for c in coefficients:
        print(f"    {float(c)!r}")


sine = interpolate(sine_rest, 6)
cosine = interpolate(cosine_rest, 6)
show("sine, (sin r - r) / r^3", sine)
show("cosine, (cos r - 1 + r^2 / 2) / r^4", cosine)
print("largest error of the sine's rest:", mp.nstr(error(sine_rest, sine), 3))
print("largest error of the cosine's rest:", mp.nstr(error(cosine_rest, cosine), 3))

END = mp.mpf(1)
show("arc tangent, atan(x) / x for 0 <= x <= 1", interpolate(arctangent_rest, 7))
print("largest error of the arc tangent's first guess:", mp.nstr(error(arctangent_rest, interpolate(arctangent_rest, 7)), 3))

print("pi/2 in parts of 33 bits, and the rest:")
rest = mp.pi / 2
for _ in range(3):
    exponent = int(mp.floor(mp.log(rest, 2)))
    unit = mp.mpf(2) ** (exponent - 32)
    part = mp.floor(rest / unit) * unit
    print("    " + float(part).hex())
    rest -= part
print("    " + float(rest).hex())
print("2/pi:", float(2 / mp.pi).hex(), " pi/180:", float(mp.pi / 180).hex())
