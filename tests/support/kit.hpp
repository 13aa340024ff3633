// SPDX-License-Identifier: MIT
#pragma once

#include <unistd.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <string>

#include <gtest/gtest.h>
#include <hushed/load.hpp>

namespace hushed::tests {

/// A directory of files for one test.
class Kit {
 public:
  Kit() : place_{std::filesystem::path{testing::TempDir()} / name_of_test()} {
    std::filesystem::create_directories(place_ / "sub");
  }
  ~Kit() { std::filesystem::remove_all(place_); }
  std::filesystem::path write(const std::string& name, const std::string& text) const {
    std::ofstream{place_ / name} << "hushed = 1\n" << text;
    return place_ / name;
  }
  std::string diagnostics(const std::string& name) const {
    try {
      load(place_ / name);
    } catch (const LoadError& error) {
      std::string text = error.what();
      for (std::size_t at = text.find(place_.string()); at != std::string::npos; at = text.find(place_.string()))
        text.erase(at, place_.string().size() + 1);
      return text;
    }
    return "accepted";
  }

  const std::filesystem::path& place() const { return place_; }

 private:
  static std::string name_of_test() {
    std::string name = testing::UnitTest::GetInstance()->current_test_info()->name();
    std::replace(name.begin(), name.end(), '/', '-');  // of a test with parameters
    return name + '-' + std::to_string(getpid());
  }

  std::filesystem::path place_;
};

}  // namespace hushed::tests
