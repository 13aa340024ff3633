// SPDX-License-Identifier: MIT
#pragma once

// The keys of one channel, thinned as they come: one is left out where what a reader finds there between its neighbours
// is as close to what was shown as a float can say, or within 1e-7 (metres, factors) or 3e-8 (parts of a quaternion:
// what is twelve metres away is then within a micrometre).

#include <array>
#include <cmath>
#include <functional>
#include <vector>

namespace hushed::detail {

/// Numbers of three or four parts; with four, a rotation, between whose keys a reader turns at an even rate.
using KeyValue = std::array<double, 4>;

struct Key {
  float time;
  std::array<float, 4> value;
};

/// What stands between two keys at a share of the way, as glTF says it.
inline KeyValue between(const std::array<float, 4>& a, const std::array<float, 4>& b, double share, int parts) {
  KeyValue value{};
  double near = 1.0 - share, far = share;
  if (parts == 4) {
    double cosine = 0.0;
    for (std::size_t i = 0; i < 4; ++i) cosine += static_cast<double>(a[i]) * static_cast<double>(b[i]);
    const double sign = cosine < 0.0 ? -1.0 : 1.0, angle = std::acos(std::fmin(std::fabs(cosine), 1.0));
    if (angle > 1e-6) {
      near = std::sin(near * angle) / std::sin(angle);
      far = std::sin(far * angle) / std::sin(angle);
    }
    far *= sign;
  }
  for (std::size_t i = 0; i < static_cast<std::size_t>(parts); ++i)
    value[i] = near * static_cast<double>(a[i]) + far * static_cast<double>(b[i]);
  return value;
}

class Keys {
 public:
  explicit Keys(int parts) : parts_{parts} {}

  /// Hands on keys that are settled.
  template <class Hand>
  void add(float time, KeyValue value, Hand&& hand) {
    if (parts_ == 4) make_continuous(value);
    if (has_first_ && stands_at(value)) value = anchor_;
    const Key key = rounded(time, value);
    if (!has_first_) {
      has_first_ = true;
      last_ = key;
      anchor_ = value;
      hand(key);
      return;
    }
    if (!(time > (waiting_.empty() ? last_.time : waiting_.back().time))) return;  // too near for a float
    if (key.value == last_.value && stands_) {
      waiting_.assign(1, {time, value});
      return;
    }
    if (waiting_.size() == most_waiting || !reaches(key)) {
      anchor_ = waiting_.back().value;
      last_ = rounded(waiting_.back().time, anchor_);
      waiting_.clear();
      hand(last_);
    }
    waiting_.push_back({time, value});
    stands_ = waiting_.size() == 1 && key.value == last_.value;
  }
  template <class Hand>
  void finish(Hand&& hand) {
    if (!waiting_.empty()) hand(rounded(waiting_.back().time, waiting_.back().value));
    waiting_.clear();
  }

 private:
  struct Sample {
    float time;
    KeyValue value;
  };
  static constexpr std::size_t most_waiting = 128;

  void make_continuous(KeyValue& value) {
    double dot = 0.0;
    for (std::size_t i = 0; i < 4; ++i) dot += value[i] * before_[i];
    if (dot < 0.0)
      for (double& part : value) part = -part;
    before_ = value;
  }
  /// Where the last key is, but for what rounding has made of it.
  bool stands_at(const KeyValue& value) const {
    for (std::size_t i = 0; i < 4; ++i)
      if (!(std::fabs(value[i] - anchor_[i]) < 1e-9)) return false;
    return true;
  }
  static Key rounded(float time, const KeyValue& value) {
    Key key{time, {}};
    for (std::size_t i = 0; i < 4; ++i) key.value[i] = static_cast<float>(value[i]);
    return key;
  }
  /// Whether all that waits is near enough to the way from the last key to this one.
  bool reaches(const Key& key) const {
    for (const Sample& sample : waiting_) {
      const double share = (static_cast<double>(sample.time) - static_cast<double>(last_.time)) /
                           (static_cast<double>(key.time) - static_cast<double>(last_.time));
      const KeyValue found = between(last_.value, key.value, share, parts_);
      for (std::size_t i = 0; i < static_cast<std::size_t>(parts_); ++i)
        if (std::fabs(found[i] - sample.value[i]) > allowed(sample.value[i])) return false;
    }
    return true;
  }
  /// Half of the last place of a float, and no less than what does not matter.
  double allowed(double value) const {
    int exponent = 0;
    std::frexp(value, &exponent);
    return std::fmax(std::ldexp(1.0, exponent - 25), parts_ == 4 ? 3e-8 : 1e-7);
  }

  int parts_;
  bool has_first_ = false;
  bool stands_ = true;  ///< all that waits is the last key's value
  Key last_ = {};
  KeyValue anchor_ = {};  ///< its value
  KeyValue before_ = {0.0, 0.0, 0.0, 1.0};
  std::vector<Sample> waiting_;
};

}  // namespace hushed::detail
