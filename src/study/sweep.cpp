// SPDX-License-Identifier: MIT
#include <hushed/sweep.hpp>

#include <algorithm>
#include <atomic>
#include <mutex>

#include <hushed/error.hpp>

#include "stage.hpp"

namespace hushed {

namespace {

using detail::Stage;

/// Tries the values of lists and the ends of ranges, so that a wrong one is found before the first play.
void try_values(Stage& stage, const SweepPlan& plan, const SweptValues& values) {
  const std::vector<Value> first = values.of(0);
  for (std::size_t i = 0; i < plan.varied.size(); ++i) {
    std::vector<Value> tried = plan.varied[i].values;
    if (tried.empty()) tried = {Value{plan.varied[i].low}, Value{plan.varied[i].high}};
    for (Value& value : tried) {
      std::vector<Value> all = first;
      all[i] = std::move(value);
      stage.set(all);
    }
  }
}

/// The plays of a sweep, taken one after the other by several threads.
class Sweeping {
 public:
  Sweeping(const SweepPlan& plan, const SweptValues& values, const SweepOptions& options)
      : plan_{plan}, values_{values}, options_{options}, next_{options.part - 1} {}

  void work(Stage& stage) {
    while (goes_on()) {
      const std::size_t number = next_.fetch_add(options_.parts);
      if (number >= values_.plays()) return;
      if (number < options_.skipped.size() && options_.skipped[number]) continue;
      SweptPlay play{number, values_.of(number), {}};
      play.measured = stage.play(play.values, plan_.length, [this](double) { return goes_on(); });
      if (play.measured.empty()) return;
      const std::scoped_lock lock{lock_};
      if (options_.on_play) options_.on_play(play);
      plays_.push_back(std::move(play));
    }
  }
  void stop() { is_stopped_ = true; }

  std::vector<SweptPlay> results() {
    std::sort(plays_.begin(), plays_.end(), [](const SweptPlay& a, const SweptPlay& b) { return a.number < b.number; });
    return std::move(plays_);
  }

 private:
  bool goes_on() const { return !is_stopped_ && (!options_.goes_on || options_.goes_on()); }

  const SweepPlan& plan_;
  const SweptValues& values_;
  const SweepOptions& options_;
  std::atomic<std::size_t> next_;
  std::atomic<bool> is_stopped_ = false;
  std::mutex lock_;  ///< of the finished plays
  std::vector<SweptPlay> plays_;
};

}  // namespace

std::vector<SweptPlay> sweep(const std::function<Scene()>& make, const SweepPlan& plan, const SweepOptions& options) {
  if (plan.measures.empty()) throw BadValue{"a sweep measures nothing; give a measure."};
  if (options.parts == 0 || options.part == 0 || options.part > options.parts)
    throw BadValue{"part " + std::to_string(options.part) + " of " + std::to_string(options.parts) +
                   " does not exist; give a part from 1 to the number of parts."};
  const SweptValues values{plan};
  std::vector<std::string> paths;
  for (const Varied& varied : plan.varied) paths.push_back(varied.path);
  std::vector<Stage> stages;
  stages.emplace_back(make(), paths, plan.measures);
  try_values(stages.front(), plan, values);

  const std::size_t plays = (values.plays() + options.parts - options.part) / options.parts;
  while (stages.size() < detail::stages_for(options.threads, plays)) stages.emplace_back(make(), paths, plan.measures);
  Sweeping sweeping{plan, values, options};
  detail::on_all(
      stages, [&](Stage& stage) { sweeping.work(stage); }, [&] { sweeping.stop(); });
  return sweeping.results();
}

SweepTable::Row SweepTable::row(const SweptPlay& play) {
  Row row{play.number, {}, {}};
  for (const Value& value : play.values) {
    const auto* text = value.as<std::string>();
    row.values.push_back(text ? *text : as_text(value));
  }
  for (const Measured& measured : play.measured) row.measured.push_back(measured.value);
  return row;
}

}  // namespace hushed
