// SPDX-License-Identifier: MIT
#pragma once

// A scene that is played again and again from its beginning, with other values.

#include <cstddef>
#include <functional>
#include <string>
#include <vector>

#include <hushed/measure.hpp>
#include <hushed/one_value.hpp>
#include <hushed/scene.hpp>

namespace hushed::detail {

class Stage {
 public:
  /// `paths`: of the values that differ from play to play. Throws `BadValue` where a path or a measure names nothing.
  Stage(Scene scene, const std::vector<std::string>& paths, const std::vector<std::string>& measures);

  const Scene& scene() const { return scene_; }
  const std::vector<OneValue>& values() const { return values_; }
  const std::vector<Measure>& measures() const { return measures_; }
  /// Returns to the beginning with these values, one for each path.
  void set(const std::vector<Value>& values);
  /// Returns an empty list where `goes_on` stopped it.
  std::vector<Measured> play(const std::vector<Value>& values, Time length, const std::function<bool(double)>& goes_on);

 private:
  Scene scene_;
  Snapshot beginning_;
  std::vector<OneValue> values_;
  std::vector<Measure> measures_;
};

/// How many stages are worth making: one a thread (0: as many as the machine has), and not more than there are plays.
std::size_t stages_for(int threads, std::size_t plays);

/// Does work on every stage at once, one thread each; the calling thread does that of the first. Rethrows what one of
/// them threw, after all have ended; `failed` is called at once.
void on_all(std::vector<Stage>& stages, const std::function<void(Stage&)>& work, const std::function<void()>& failed);

}  // namespace hushed::detail
