#!/bin/sh
# SPDX-License-Identifier: MIT
# Runs the example in Python with the library of this build.
exec "$PYTHON3" "$SOURCES/examples/from_python.py" "$LIBRARY" "$SOURCES/scenes/harbour.toml"
