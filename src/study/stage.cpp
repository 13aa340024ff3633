// SPDX-License-Identifier: MIT
#include "stage.hpp"

#include <algorithm>
#include <exception>
#include <mutex>
#include <thread>

namespace hushed::detail {

Stage::Stage(Scene scene, const std::vector<std::string>& paths, const std::vector<std::string>& measures)
    : scene_{std::move(scene)}, beginning_{scene_.snapshot()} {
  for (const std::string& path : paths) values_.emplace_back(path, scene_);
  for (const std::string& text : measures) measures_.emplace_back(text, scene_);
}

void Stage::set(const std::vector<Value>& values) {
  scene_.restore(beginning_);
  for (std::size_t i = 0; i < values.size(); ++i) values_[i].set(scene_, values[i]);
}

std::vector<Measured> Stage::play(const std::vector<Value>& values, Time length,
                                  const std::function<bool(double)>& goes_on) {
  set(values);
  return measure(scene_, measures_, length, goes_on);
}

std::size_t stages_for(int threads, std::size_t plays) {
  const std::size_t most = threads > 0 ? static_cast<std::size_t>(threads) : std::thread::hardware_concurrency();
  return std::clamp<std::size_t>(plays, 1, std::max<std::size_t>(most, 1));
}

void on_all(std::vector<Stage>& stages, const std::function<void(Stage&)>& work, const std::function<void()>& failed) {
  std::mutex lock;
  std::exception_ptr failure;
  const auto guarded = [&](Stage& stage) {
    try {
      work(stage);
    } catch (...) {
      failed();
      const std::scoped_lock held{lock};
      if (!failure) failure = std::current_exception();
    }
  };
  {
    std::vector<std::jthread> others;
    for (std::size_t i = 1; i < stages.size(); ++i) others.emplace_back([&, i] { guarded(stages[i]); });
    guarded(stages.front());
  }
  if (failure) std::rethrow_exception(failure);
}

}  // namespace hushed::detail
