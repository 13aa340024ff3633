#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""Writes scenes/artist.glb: a part of the harbour as an artist might model it, with three animations."""

import json
import math
import random
import struct
import sys
import zlib

FLOAT, UINT = 5126, 5125
binary = bytearray()
views, accessors, meshes, materials, nodes, images = [], [], [], [], [], []


def accessor(numbers, kind, component=FLOAT, bounds=False):
    """Adds numbers (a flat list) and returns the index of their accessor."""
    parts = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4}[kind]
    while len(binary) % 4:
        binary.append(0)
    data = struct.pack(f"<{len(numbers)}{'f' if component == FLOAT else 'I'}", *numbers)
    views.append({"buffer": 0, "byteOffset": len(binary), "byteLength": len(data)})
    binary.extend(data)
    made = {"bufferView": len(views) - 1, "componentType": component, "count": len(numbers) // parts, "type": kind}
    if bounds:
        stored = struct.unpack(f"<{len(numbers)}f", data)
        made["min"] = [min(stored[i::parts]) for i in range(parts)]
        made["max"] = [max(stored[i::parts]) for i in range(parts)]
    accessors.append(made)
    return len(accessors) - 1


def linear(colour):
    """The linear base colour of "#rrggbb"."""
    def one(text):
        share = int(text, 16) / 255
        return share / 12.92 if share <= 0.04045 else ((share + 0.055) / 1.055) ** 2.4
    return [round(one(colour[i:i + 2]), 5) for i in (1, 3, 5)] + [1]


def material(name, colour, pixels=None):
    paint = {"baseColorFactor": linear(colour), "metallicFactor": 0}
    if pixels:
        paint["baseColorTexture"] = {"index": texture(pixels)}
    materials.append({"name": name, "pbrMetallicRoughness": paint})
    return len(materials) - 1


def texture(rows):
    """Adds a grey picture, rows of bytes, as a PNG file."""
    def chunk(kind, data):
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
    picture = b"".join(b"\0" + bytes(row) for row in rows)
    data = b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", struct.pack(">IIBBBBB", len(rows[0]), len(rows), 8, 0, 0, 0, 0)) \
        + chunk(b"IDAT", zlib.compress(picture, 9)) + chunk(b"IEND", b"")
    while len(binary) % 4:
        binary.append(0)
    views.append({"buffer": 0, "byteOffset": len(binary), "byteLength": len(data)})
    binary.extend(data)
    images.append({"bufferView": len(views) - 1, "mimeType": "image/png"})
    return len(images) - 1


def courses(rows, stones, size=64, shift=0.5):
    """A wall of stones, or with one stone a row, of boards: each of another brightness, with dark joints."""
    chance = random.Random(7)
    tones = [[chance.randint(200, 255) for _ in range(stones)] for _ in range(rows)]

    def pixel(x, y):
        row = y * rows // size
        along = (x / size + shift * (row % 2)) % 1 * stones
        is_joint = y * rows % size < rows or along % 1 < stones / size
        return 110 if is_joint else tones[row][int(along)] - chance.randint(0, 18)
    return [[pixel(x, y) for x in range(size)] for y in range(size)]


def covered(body, metres):
    """Corners of its own for each triangle, with a texture of a width of `metres` laid on from the side it faces."""
    points, triangles = body
    places, coordinates = [], []
    for t in range(0, len(triangles), 3):
        corners = [points[3 * i:3 * i + 3] for i in triangles[t:t + 3]]
        a, b = [[corners[i][k] - corners[0][k] for k in range(3)] for i in (1, 2)]
        normal = [abs(a[(k + 1) % 3] * b[(k + 2) % 3] - a[(k + 2) % 3] * b[(k + 1) % 3]) for k in range(3)]
        across, down = {0: (2, 1), 1: (2, 0), 2: (0, 1)}[normal.index(max(normal))]
        for corner in corners:
            places += corner
            coordinates += [corner[across] / metres, -corner[down] / metres]
    return places, list(range(len(triangles))), coordinates


def turned(rings, around, closed=True):
    """Corners and triangles of a body with rings (radius, height) about +Y."""
    points, triangles = [], []
    for radius, height in rings:
        for i in range(around):
            angle = 2 * math.pi * i / around
            points += [radius * math.sin(angle), height, radius * math.cos(angle)]
    for ring in range(len(rings) - 1):
        for i in range(around):
            a, b = ring * around + i, ring * around + (i + 1) % around
            triangles += [a, b, b + around, a, b + around, a + around]
    if closed:
        for ring, flips in ((0, True), (len(rings) - 1, False)):
            for i in range(1, around - 1):
                a, b, c = ring * around, ring * around + i, ring * around + i + 1
                triangles += [a, c, b] if flips else [a, b, c]
    return points, triangles


def block(sections):
    """A body of rectangles across +Z: (z, half width, bottom, top), such as a hull."""
    points, triangles = [], []
    for z, half, low, high in sections:
        points += [-half, low, z, half, low, z, half, high, z, -half, high, z]
    for s in range(len(sections) - 1):
        for i in range(4):
            a, b = 4 * s + i, 4 * s + (i + 1) % 4
            triangles += [a, b, b + 4, a, b + 4, a + 4]
    last = 4 * (len(sections) - 1)
    return points, triangles + [0, 2, 1, 0, 3, 2, last, last + 1, last + 2, last, last + 2, last + 3]


def mesh(name, *parts):
    """A mesh of pairs of a body (corners, triangles, perhaps coordinates of its texture) and a material."""
    primitives = []
    for (points, triangles, *coordinates), paint in parts:
        attributes = {"POSITION": accessor(points, "VEC3", bounds=True)}
        if coordinates:
            attributes["TEXCOORD_0"] = accessor(coordinates[0], "VEC2")
        primitives.append({"attributes": attributes, "indices": accessor(triangles, "SCALAR", UINT), "material": paint})
    meshes.append({"name": name, "primitives": primitives})
    return len(meshes) - 1


def node(name, **keys):
    nodes.append({"name": name, **keys})
    return len(nodes) - 1


def yaw(degrees):
    half = math.radians(degrees) / 2
    return [0, math.sin(half), 0, math.cos(half)]


stone, white, red = material("stone", "#8f949b", courses(8, 4)), material("white", "#d9d4c7"), material("red", "#a8412f")
wood, steel, glass = material("wood", "#957d5f", courses(6, 1, shift=0.37)), material("steel", "#5c6f86"), material("glass", "#ffd27a")
iron = material("iron", "#4a4d55")

mole = mesh("mole", (covered(block([(-14, 2.5, -2, 1), (14, 2.5, -2, 1)]), 3), stone))
tower = mesh("tower", (turned([(1.7, 0), (1.4, 4)], 20), white), (turned([(1.4, 4), (1.2, 7)], 20), red),
             (turned([(1.2, 7), (1.0, 10)], 20), white))
lantern = mesh("lantern", (turned([(0.9, 0), (0.9, 1.2)], 12), glass), (turned([(1.2, 1.2), (0.05, 2.2)], 12), red))
hull = mesh("hull", (block([(-4.5, 1.3, -0.6, 0.9), (2.5, 1.4, -0.6, 0.9), (4.8, 0.15, -0.1, 1.2)]), steel),
            (block([(-3.4, 1.0, 0.9, 2.4), (1.0, 1.0, 0.9, 2.2)]), white))
buoy = mesh("buoy", (turned([(0.05, -0.7), (0.7, 0), (0.6, 0.5), (0.1, 1.4)], 14), red))
vane = mesh("vane", (block([(-1.2, 0.04, -0.15, 0.15), (0.7, 0.04, -0.03, 0.03), (1.1, 0.02, -0.3, 0.3)]), steel))
bollard = mesh("bollard", (turned([(0.25, 0), (0.2, 0.5), (0.32, 0.6), (0.3, 0.75)], 10), iron))
plank = mesh("plank", (covered(block([(-4, 0.9, -0.1, 0.1), (4, 0.9, -0.1, 0.1)]), 1.8), wood))

bollards = [-12, -8, -4, 0, 4, 8, 12]
places = accessor([number for z in bollards for number in (2.0, 1.0, z)], "VEC3")

camera = node("view from the quay", camera=0, translation=[30, 14, 26])
lamp = node("lamp", mesh=lantern, translation=[0, 10, 0], extensions={"KHR_lights_punctual": {"light": 0}})
wind = node("weather vane", mesh=vane, translation=[0, 2.6, 0])
nodes[lamp]["children"] = [wind]
lighthouse = node("lighthouse", mesh=tower, translation=[0, 1, -11], children=[lamp], extras={"tags": ["tall"]})
row = node("bollard", mesh=bollard, extensions={"EXT_mesh_gpu_instancing": {"attributes": {"TRANSLATION": places}}})
quay = node("mole", mesh=mole, translation=[-12, 0, 0], children=[lighthouse, row])
ferry = node("Ferry No. 2", mesh=hull, translation=[14, 0, -14], extras={"tags": ["boat"]})
marker = node("buoy", mesh=buoy, translation=[4, 0, 6])
gangway = node("gangway", mesh=plank, translation=[-5.8, 1.2, 4], rotation=yaw(90))

# The ferry crosses and turns round, by straight lines; the buoy bobs along a spline; the vane jumps with the gusts.
times = [0, 6, 8, 14, 16]
crossing = accessor([14, 0, -14, 14, 0, 14, 14, 0, 14, 14, 0, -14, 14, 0, -14], "VEC3")
turning = accessor(yaw(0) + yaw(0) + yaw(179) + yaw(179) + yaw(358), "VEC4")
ferry_times = accessor(times, "SCALAR", bounds=True)
bob_times = accessor([0, 1.2, 2.6, 4], "SCALAR", bounds=True)
bobbing = accessor([0, 0.4, 0, 4, 0, 6, 0, 0.4, 0, 0, -0.1, 0, 4, 0.35, 6.1, 0, -0.1, 0,
                    0, 0.1, 0, 4, -0.3, 5.9, 0, 0.1, 0, 0, 0.4, 0, 4, 0, 6, 0, 0.4, 0], "VEC3")
gusts = accessor([0, 2, 3, 5.5, 7], "SCALAR", bounds=True)
jumps = accessor(yaw(20) + yaw(65) + yaw(40) + yaw(110) + yaw(20), "VEC4")

document = {
    "asset": {"version": "2.0", "generator": "artist_scene.py"},
    "scene": 0, "scenes": [{"name": "harbour", "nodes": [camera, quay, ferry, marker, gangway]}],
    "nodes": nodes, "meshes": meshes, "materials": materials,
    "images": images, "samplers": [{}], "textures": [{"source": i, "sampler": 0} for i in range(len(images))],
    "cameras": [{"type": "perspective", "perspective": {"yfov": 0.8, "znear": 0.1}}],
    "extensionsUsed": ["KHR_lights_punctual", "EXT_mesh_gpu_instancing"],
    "extensions": {"KHR_lights_punctual": {"lights": [{"type": "point", "color": [1, 0.8, 0.5], "intensity": 40}]}},
    "animations": [
        {"name": "crossing",
         "samplers": [{"input": ferry_times, "output": crossing}, {"input": ferry_times, "output": turning}],
         "channels": [{"sampler": 0, "target": {"node": ferry, "path": "translation"}},
                      {"sampler": 1, "target": {"node": ferry, "path": "rotation"}}]},
        {"name": "bobbing", "samplers": [{"input": bob_times, "output": bobbing, "interpolation": "CUBICSPLINE"}],
         "channels": [{"sampler": 0, "target": {"node": marker, "path": "translation"}}]},
        {"name": "gusts", "samplers": [{"input": gusts, "output": jumps, "interpolation": "STEP"}],
         "channels": [{"sampler": 0, "target": {"node": wind, "path": "rotation"}}]},
    ],
    "accessors": accessors, "bufferViews": views, "buffers": [{"byteLength": len(binary)}],
}
text = json.dumps(document, separators=(",", ":")).encode()
text += b" " * (-len(text) % 4)
binary += b"\0" * (-len(binary) % 4)
with open(sys.argv[1] if len(sys.argv) > 1 else "scenes/artist.glb", "wb") as out:
    out.write(struct.pack("<4sII", b"glTF", 2, 28 + len(text) + len(binary)))
    out.write(struct.pack("<II", len(text), 0x4E4F534A) + text)
    out.write(struct.pack("<II", len(binary), 0x004E4942) + binary)
