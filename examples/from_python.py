# SPDX-License-Identifier: MIT
"""The harbour from Python, with nothing but ctypes and libhushed.so.

Loads a scene, drives its pilot boat as a network or a physics engine would, adds a kind of behaviour that is written
here, and prints where things are.

    python3 examples/from_python.py [the library] [the scene file]
"""

import ctypes
import ctypes.util
import math
import pathlib
import sys

here = pathlib.Path(__file__).resolve().parent
library = sys.argv[1] if len(sys.argv) > 1 else ctypes.util.find_library("hushed") or "libhushed.so"
scene_file = sys.argv[2] if len(sys.argv) > 2 else str(here.parent / "scenes" / "harbour.toml")
hushed = ctypes.CDLL(library)


class Pose(ctypes.Structure):
    _fields_ = [("position", ctypes.c_double * 3), ("rotation", ctypes.c_double * 4), ("scale", ctypes.c_double * 3)]


class Error(ctypes.Structure):
    _fields_ = [("text", ctypes.c_char_p), ("file", ctypes.c_char_p), ("line", ctypes.c_int32),
                ("column", ctypes.c_int32)]


class Moment(ctypes.Structure):
    _fields_ = [("time", ctypes.c_double), ("since_start", ctypes.c_double), ("step", ctypes.c_double),
                ("parent", Pose), ("inside", ctypes.c_void_p)]


class Field(ctypes.Structure):
    _fields_ = [("name", ctypes.c_char_p), ("type", ctypes.c_int32), ("fallback", ctypes.c_double * 3),
                ("low", ctypes.c_double), ("high", ctypes.c_double), ("unit", ctypes.c_char_p),
                ("help", ctypes.c_char_p), ("words", ctypes.POINTER(ctypes.c_char_p)), ("word_count", ctypes.c_size_t)]


Apply = ctypes.CFUNCTYPE(None, ctypes.c_void_p, ctypes.POINTER(ctypes.c_double), ctypes.POINTER(ctypes.c_uint64),
                         ctypes.POINTER(ctypes.c_double), ctypes.POINTER(Pose), ctypes.POINTER(Moment))


class Kind(ctypes.Structure):
    _fields_ = [("name", ctypes.c_char_p), ("summary", ctypes.c_char_p), ("fields", ctypes.POINTER(Field)),
                ("field_count", ctypes.c_size_t), ("memory", ctypes.c_size_t), ("begin", Apply), ("apply", Apply),
                ("user", ctypes.c_void_p), ("thread_safe", ctypes.c_int32), ("release", ctypes.c_void_p)]


class NewObject(ctypes.Structure):
    _fields_ = [("name", ctypes.c_char_p), ("parent", ctypes.c_uint64), ("rest", Pose), ("inherit", ctypes.c_uint32),
                ("tags", ctypes.POINTER(ctypes.c_char_p)), ("tag_count", ctypes.c_size_t),
                ("number", ctypes.c_uint64)]


hushed.hushed_error_at.restype = Error
hushed.hushed_error_at.argtypes = [ctypes.c_size_t]
hushed.hushed_pose_at.restype = Pose
hushed.hushed_pose_at.argtypes = [ctypes.c_double] * 3


def call(name, *arguments):
    """Calls a function of the library and raises an exception where it fails."""
    if getattr(hushed, "hushed_" + name)(*arguments) != 0:
        raise RuntimeError("; ".join(
            f"{hushed.hushed_error_at(i).file.decode()}:{hushed.hushed_error_at(i).line}: "
            f"{hushed.hushed_error_at(i).text.decode()}" for i in range(hushed.hushed_error_count())))


def found(scene, name):
    to = ctypes.c_uint64()
    call("find", scene, name.encode(), ctypes.byref(to))
    return to


def where(scene, object):
    pose = Pose()
    call("world", scene, object, ctypes.byref(pose))
    return tuple(pose.position)


# A kind that is written in Python: goes to and fro like a bell, and more slowly the longer its rope is.
@Apply
def nod(user, numbers, objects, memory, pose, now):
    rope, reach = numbers[0], numbers[1]
    pose.contents.position[0] += reach * math.sin(now.contents.since_start * math.sqrt(9.81 / rope))


fields = (Field * 2)(Field(b"rope", 0, (2.0, 0, 0), 0.1, 100, b"m", b"length of the rope"),
                     Field(b"reach", 0, (0.5, 0, 0), 0, 10, b"m", b"how far it goes"))
kinds = ctypes.c_uint64()
call("kinds_new", ctypes.byref(kinds))
call("kinds_add", kinds, ctypes.byref(Kind(b"nod", b"nods like a bell", fields, 2, 0, Apply(), nod)))

harbour = ctypes.c_uint64()
call("scene_load", scene_file.encode(), kinds, ctypes.byref(harbour))

# A float that nods on the water; and the pilot boat gets its poses from here. Its lookout, in the file, follows it.
buoy, pilot = ctypes.c_uint64(), found(harbour, "pilot")
call("add", harbour, ctypes.byref(NewObject(b"float", 0, hushed.hushed_pose_at(0, 0, 12), 7)), ctypes.byref(buoy))
call("give", harbour, buoy, b'kind = "nod"\nrope = 4')
call("give", harbour, pilot, b'kind = "fed"')

frames_per_second = 60
for frame in range(1, 4 * frames_per_second + 1):
    time = frame / frames_per_second
    pose = hushed.hushed_pose_at(-20 + 3 * time, 0, 2 * math.sin(time))
    call("feed", harbour, pilot, ctypes.byref(pose))
    call("advance", harbour, ctypes.c_double(1 / frames_per_second))
    if frame % frames_per_second == 0:
        print(f"{time:.0f} s", *("%s at %.2f %.2f %.2f" % (name, *where(harbour, found(harbour, name)))
                                 for name in ("pilot", "lookout", "float", "ferry")), sep="; ")

call("scene_free", harbour)
call("kinds_free", kinds)

# Prints:
# 1 s; pilot at -17.00 0.00 1.68; lookout at -17.25 5.00 2.53; float at 0.50 0.00 12.00; ferry at 19.95 0.00 -4.87
# 2 s; pilot at -14.00 0.00 1.82; lookout at -15.03 5.00 1.96; float at 0.00 0.00 12.00; ferry at 18.62 0.00 -7.08
# 3 s; pilot at -11.00 0.00 0.28; lookout at -12.08 5.00 0.89; float at -0.50 0.00 12.00; ferry at 15.77 0.00 -10.01
# 4 s; pilot at -8.00 0.00 -1.51; lookout at -9.08 5.00 -0.92; float at -0.01 0.00 12.00; ferry at 11.61 0.00 -13.22
