# SPDX-License-Identifier: MIT
"""Writes small glTF files into a folder, and prints what they mean.

Each line of the output is: file, time, node, then the world's position, rotation (x, y, z, w) and scale. The values are
computed here from the definitions of glTF 2.0 (sections 3.11 and appendix C), with matrices, and from nothing else.
"""

import base64
import json
import math
import struct
import sys

folder = sys.argv[1]


def buffer_of(arrays):
    """A document's buffer, views and accessors for lists of (numbers, type)."""
    data, views, accessors = b"", [], []
    for numbers, kind in arrays:
        parts = {"SCALAR": 1, "VEC3": 3, "VEC4": 4}[kind]
        packed = struct.pack(f"<{len(numbers)}f", *numbers)
        views.append({"buffer": 0, "byteOffset": len(data), "byteLength": len(packed)})
        accessors.append({"bufferView": len(views) - 1, "componentType": 5126, "count": len(numbers) // parts, "type": kind})
        data += packed
    uri = "data:application/octet-stream;base64," + base64.b64encode(data).decode()
    return {"buffers": [{"byteLength": len(data), "uri": uri}], "bufferViews": views, "accessors": accessors}


def stored(numbers):
    return list(struct.unpack(f"<{len(numbers)}f", struct.pack(f"<{len(numbers)}f", *numbers)))


def unit(q):
    length = math.sqrt(sum(x * x for x in q))
    return [x / length for x in q]


def slerp(a, b, t):
    """Appendix C.4: along the shortest arc."""
    dot = sum(x * y for x, y in zip(a, b))
    if dot < 0:
        b, dot = [-x for x in b], -dot
    if dot > 1 - 1e-14:
        return unit([x + (y - x) * t for x, y in zip(a, b)])
    angle = math.acos(min(dot, 1))
    return [(x * math.sin((1 - t) * angle) + y * math.sin(t * angle)) / math.sin(angle) for x, y in zip(a, b)]


def sampled(times, values, parts, how, t):
    """The value of a sampler at a time."""
    rows = [values[i:i + parts] for i in range(0, len(values), parts)]
    value = (lambda key: rows[3 * key + 1]) if how == "CUBICSPLINE" else (lambda key: rows[key])
    if t <= times[0]:
        return unit(value(0)) if parts == 4 else value(0)
    if t >= times[-1]:
        last = len(times) - 1
        return unit(value(last)) if parts == 4 else value(last)
    key = max(i for i, at in enumerate(times) if at <= t)
    width = times[key + 1] - times[key]
    s = (t - times[key]) / width
    if how == "STEP":
        return unit(value(key)) if parts == 4 else value(key)
    if how == "LINEAR":
        if parts == 4:
            return slerp(unit(value(key)), unit(value(key + 1)), s)
        return [a + (b - a) * s for a, b in zip(value(key), value(key + 1))]
    out, into = rows[3 * key + 2], rows[3 * key + 3]
    spline = [(2 * s ** 3 - 3 * s ** 2 + 1) * p0 + width * (s ** 3 - 2 * s ** 2 + s) * m0
              + (-2 * s ** 3 + 3 * s ** 2) * p1 + width * (s ** 3 - s ** 2) * m1
              for p0, m0, p1, m1 in zip(value(key), out, value(key + 1), into)]
    return unit(spline) if parts == 4 else spline


def multiplied(a, b):
    """Of quaternions x, y, z, w."""
    ax, ay, az, aw = a
    bx, by, bz, bw = b
    return [aw * bx + ax * bw + ay * bz - az * by, aw * by - ax * bz + ay * bw + az * bx,
            aw * bz + ax * by - ay * bx + az * bw, aw * bw - ax * bx - ay * by - az * bz]


def turned(q, v):
    x, y, z, _ = multiplied(multiplied(q, [*v, 0]), [-q[0], -q[1], -q[2], q[3]])
    return [x, y, z]


def world(local, parents, node):
    position, rotation, scale = local[node]
    at = parents[node]
    while at is not None:
        p, r, s = local[at]
        position = [a + b for a, b in zip(p, turned(r, [x * f for x, f in zip(position, s)]))]
        rotation, scale = multiplied(r, rotation), [x * f for x, f in zip(scale, s)]
        at = parents[at]
    return position + rotation + scale


def write(name, nodes, parents, samplers, channels, times):
    """`samplers`: (times, values, type, interpolation); `channels`: (sampler, node, path)."""
    arrays = []
    for keys, values, kind, _ in samplers:
        arrays += [(keys, "SCALAR"), (values, kind)]
    document = {"asset": {"version": "2.0"}, "scene": 0, "nodes": nodes, **buffer_of(arrays),
                "scenes": [{"nodes": [i for i, parent in enumerate(parents) if parent is None]}],
                "animations": [{"name": "all",
                                "samplers": [{"input": 2 * i, "output": 2 * i + 1, "interpolation": each[3]}
                                             for i, each in enumerate(samplers)],
                                "channels": [{"sampler": s, "target": {"node": n, "path": path}} for s, n, path in channels]}]}
    for i, parent in enumerate(parents):
        if parent is not None:
            nodes[parent].setdefault("children", []).append(i)
    with open(f"{folder}/{name}.gltf", "w") as out:
        json.dump(document, out)
    natural = {"translation": [0, 0, 0], "rotation": [0, 0, 0, 1], "scale": [1, 1, 1]}
    for t in times:
        local = [[each.get(path, natural[path]) for path in natural] for each in nodes]
        for sampler, node, path in channels:
            keys, values, kind, how = samplers[sampler]
            parts = 4 if kind == "VEC4" else 3
            local[node][list(natural).index(path)] = sampled(stored(keys), stored(values), parts, how, t)
        for i, node in enumerate(nodes):
            print(name, repr(t), node["name"], *map(repr, world(local, parents, i)))


def axis(x, y, z, degrees):
    half = math.radians(degrees) / 2
    return [x * math.sin(half), y * math.sin(half), z * math.sin(half), math.cos(half)]


moments = [0, 0.1, 0.4, 0.5, 0.83, 1, 1.2, 1.75, 2, 2.6, 3, 3.7]

# A cube that turns about itself, once round in four keys.
write("cube", [{"name": "cube", "translation": [1, 2, 3]}], [None],
      [([0, 1, 2, 3], axis(0, 1, 0, 0) + axis(0, 1, 0, 120) + axis(0, 1, 0, 240) + axis(0, 1, 0, 360), "VEC4", "LINEAR")],
      [(0, 0, "rotation")], moments)

# Transforms within transforms, each with all three parts; the middle one moves.
write("nested", [{"name": "mast", "translation": [4, 0, -2], "rotation": axis(0, 1, 0, 30), "scale": [2, 2, 2]},
                 {"name": "yard", "translation": [0, 5, 0], "rotation": axis(1, 0, 0, -20), "scale": [0.5, 0.5, 0.5]},
                 {"name": "flag", "translation": [1, 0, 0.5], "rotation": axis(0.6, 0, 0.8, 75), "scale": [1, 3, 1]}],
      [None, 0, 1],
      [([0.5, 1, 3], [0, 5, 0, 0, 6, 1, -1, 5, 0], "VEC3", "LINEAR"),
       ([0, 2], axis(1, 0, 0, -20) + axis(0, 0, 1, 200), "VEC4", "LINEAR")],
      [(0, 1, "translation"), (1, 1, "rotation")], moments)

# Every interpolation of every part.
spline = [0, 0, 0, 1, 0, 0, 3, 1, 0, 0, 2, 0, 2, 1, 1, 0, -1, 0, -2, 0, 0, 0, 3, -1, 1, 1, 1]
turns = []
for degrees, rate in ((0, 1.5), (100, 0.4), (10, -2)):
    turns += [0, rate, 0, 0] + axis(0, 1, 0, degrees) + [0.2, rate, 0, -0.1]
write("interpolation", [{"name": name} for name in ("step", "linear", "cubic")], [None, None, None],
      [([0, 1, 2], [0, 0, 0, 2, 1, 0, -1, 0, 4], "VEC3", "STEP"),
       ([0, 1, 2], axis(0, 1, 0, 0) + axis(0, 1, 0, 90) + axis(1, 0, 0, 45), "VEC4", "STEP"),
       ([0, 1, 2], [1, 1, 1, 2, 1, 1, 1, 3, 1], "VEC3", "STEP"),
       ([0, 1, 2], [0, 0, 0, 2, 1, 0, -1, 0, 4], "VEC3", "LINEAR"),
       ([0, 1, 2], axis(0, 1, 0, 0) + axis(0, 1, 0, 170) + axis(1, 0, 0, -100), "VEC4", "LINEAR"),
       ([0, 1, 2], [1, 1, 1, 2, 1, 1, 1, 3, 1], "VEC3", "LINEAR"),
       ([0, 1, 2.5], spline, "VEC3", "CUBICSPLINE"),
       ([0, 1, 2.5], turns, "VEC4", "CUBICSPLINE"),
       ([0, 1, 2.5], [x + 2 for x in spline], "VEC3", "CUBICSPLINE")],
      [(3 * i + part, i, path) for i in range(3) for part, path in enumerate(("translation", "rotation", "scale"))], moments)
