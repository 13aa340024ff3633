// SPDX-License-Identifier: MIT
#pragma once

// Measures two ways and prints their times side by side.

#include <algorithm>
#include <map>
#include <string>
#include <vector>

#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include "lanes/loop.hpp"

namespace side_by_side {

/// Sets the options of the benchmark library: both ways run in random order, so that a disturbance affects both.
inline bool take_options(int count, char** words) {
  std::string in_turns = "--benchmark_enable_random_interleaving=true";
  std::vector<char*> all(words, words + count);
  all.insert(all.begin() + 1, in_turns.data());
  count = static_cast<int>(all.size());
  benchmark::Initialize(&count, all.data());
  return !benchmark::ReportUnrecognizedArguments(count, all.data());
}

using hushed::detail::instructions;
using hushed::detail::Instructions;
inline const char* name_of(Instructions instructions) {
  switch (instructions) {
    case Instructions::of_eight: return "vectors of eight lanes";
    case Instructions::of_four: return "vectors of four lanes";
    case Instructions::of_two: break;
  }
  return "vectors of two lanes";
}

/// The ratio that is wanted with vectors of four and of eight lanes; 0: none is given.
struct Goal {
  double of_four = 0.0, of_eight = 0.0;
  double here() const { return instructions == Instructions::of_eight ? of_eight : of_four; }
};

/// Counts the goals that are met, and returns the end of a line about one.
class Goals {
 public:
  std::string judge(const Goal& goal, double ratio) {
    if (goal.here() == 0.0) return "";
    const bool is_met = ratio >= goal.here();
    ++(is_met ? met_ : missed_);
    return fmt::format("{:>7.1f}  {}", goal.here(), is_met ? "met" : "missed");
  }
  std::string summary() const {
    return fmt::format("\nWith {}: {} goals met, {} missed.\n", name_of(instructions), met_, missed_);
  }

 private:
  int met_ = 0, missed_ = 0;
};

class Times final : public benchmark::BenchmarkReporter {
 public:
  bool ReportContext(const Context&) override { return true; }
  void ReportRuns(const std::vector<Run>& runs) override {
    for (const Run& run : runs) {
      if (run.run_type != Run::RT_Iteration) continue;
      const std::string& name = run.run_name.function_name;
      times_[name].push_back(run.real_accumulated_time / static_cast<double>(run.iterations));
      for (const auto& [what, counter] : run.counters) counters_[name + '/' + what] = counter.value;
    }
  }
  /// The last value of a counter.
  double counted(const std::string& name, const std::string& what) { return counters_[name + '/' + what]; }
  double median_nanoseconds(const std::string& name, int count) {
    const auto& times = sorted(name);
    return times.empty() ? 0.0 : times[times.size() / 2] * 1e9 / count;
  }
  /// The least time. A busy machine disturbs large memory-bound runs more than small ones; the least is that of a quiet
  /// moment.
  double least_nanoseconds(const std::string& name, int count) {
    const auto& times = sorted(name);
    return times.empty() ? 0.0 : times.front() * 1e9 / count;
  }

 private:
  const std::vector<double>& sorted(const std::string& name) {
    auto& times = times_[name];
    std::sort(times.begin(), times.end());
    return times;
  }

  std::map<std::string, std::vector<double>> times_;
  std::map<std::string, double> counters_;
};

}  // namespace side_by_side
