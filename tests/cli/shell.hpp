// SPDX-License-Identifier: MIT
#pragma once

// The tool, run by a shell.

#include <sys/wait.h>

#include <array>
#include <cstdio>
#include <sstream>
#include <string>
#include <vector>

namespace hushed::tests {

struct Result {
  int status;
  std::string output;
};

/// Runs a shell command in which `hushed` is the tool.
inline Result shell(const std::string& command) {
  const std::string whole =
      "bash 2>&1 <<'END'\ntool='" TOOL "'; hushed() { \"$tool\" \"$@\"; }\n" + command + "\nEND\n";
  FILE* pipe = popen(whole.c_str(), "r");
  Result result{0, {}};
  std::array<char, 4096> part{};
  while (const std::size_t count = fread(part.data(), 1, part.size(), pipe)) result.output.append(part.data(), count);
  const int status = pclose(pipe);
  result.status = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
  return result;
}

inline std::vector<std::string> lines(const std::string& text) {
  std::vector<std::string> all;
  std::istringstream in{text};
  for (std::string line; std::getline(in, line);) all.push_back(line);
  return all;
}

}  // namespace hushed::tests
