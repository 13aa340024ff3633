// SPDX-License-Identifier: MIT
// Recordings as glTF, its text and its binary form.

#include <hushed/load.hpp>
#include <hushed/recording_file.hpp>

#include "fuzz.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace hushed;
  if (size > 16384) return 0;
  for (const char* const ending : {".gltf", ".glb"}) {
    try {
      (void)read_recording(fuzz::file_with(fuzz::text_of(data, size), ending));
    } catch (const Error&) {
    }
  }
  return 0;
}
