// SPDX-License-Identifier: MIT
// Recordings as CSV and as JSON Lines.

#include <hushed/load.hpp>
#include <hushed/recording_file.hpp>
#include <hushed/watched.hpp>

#include "fuzz.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace hushed;
  if (size > 4096) return 0;
  for (const char* const ending : {".csv", ".jsonl"}) {
    try {
      Scene scene = replay(read_recording(fuzz::file_with(fuzz::text_of(data, size), ending)));
      scene.advance(std::chrono::milliseconds{100});
    } catch (const Error&) {
    }
  }
  return 0;
}
