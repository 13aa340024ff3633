// SPDX-License-Identifier: MIT
#include "output.hpp"

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <stdexcept>

namespace hushed::cli {

bool Output::write(const std::string& text) {
  return open_ && note(std::fwrite(text.data(), 1, text.size(), stdout) == text.size());
}

bool Output::flush() { return open_ && note(std::fflush(stdout) == 0); }

bool Output::note(bool went_well) {
  open_ = went_well;
  if (!went_well && errno != EPIPE)
    throw std::runtime_error{std::string{"the output cannot be written: "} + std::strerror(errno) + "."};
  return open_;
}

}  // namespace hushed::cli
