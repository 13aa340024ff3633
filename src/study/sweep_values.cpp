// SPDX-License-Identifier: MIT
// The values of the plays of a sweep.

#include <algorithm>
#include <cmath>
#include <numeric>

#include <boost/random/sobol.hpp>

#include <hushed/detail/rounded.hpp>
#include <hushed/error.hpp>
#include <hushed/seeded.hpp>
#include <hushed/sweep.hpp>

namespace hushed {

namespace {

constexpr std::size_t most_plays = 1'000'000, most_varied = 64;

std::size_t count_of(const Varied& varied) { return varied.values.empty() ? varied.count : varied.values.size(); }

std::vector<double> latin_hypercube(std::size_t plays, std::size_t dimensions, std::uint64_t seed) {
  std::vector<double> shares(plays * dimensions);
  std::uint64_t drawn = 0;
  const auto next = [&] { return seeded_number(seed, drawn++); };
  std::vector<std::size_t> parts(plays);
  for (std::size_t d = 0; d < dimensions; ++d) {
    std::iota(parts.begin(), parts.end(), std::size_t{0});
    for (std::size_t i = plays; i-- > 1;)
      std::swap(parts[i], parts[static_cast<std::size_t>(next() * static_cast<double>(i + 1))]);
    for (std::size_t i = 0; i < plays; ++i)
      shares[i * dimensions + d] = (static_cast<double>(parts[i]) + next()) / static_cast<double>(plays);
  }
  return shares;
}

std::vector<double> sobol(std::size_t plays, std::size_t dimensions, std::uint64_t seed) {
  boost::random::sobol sequence{dimensions};
  std::vector<std::uint64_t> shifts(dimensions);
  for (std::size_t d = 0; d < dimensions; ++d)
    shifts[d] = static_cast<std::uint64_t>(std::ldexp(seeded_number(seed, d), 53)) << 11;
  std::vector<double> shares(plays * dimensions);
  for (std::size_t i = 0; i < shares.size(); ++i) {
    const std::uint64_t number = i < dimensions ? 0 : sequence();  // the engine leaves out the first point, 0
    shares[i] = std::ldexp(static_cast<double>((number ^ shifts[i % dimensions]) >> 11), -53);
  }
  return shares;
}

}  // namespace

SweptValues::SweptValues(const SweepPlan& plan) : varied_{plan.varied} {
  if (varied_.empty()) throw BadValue{"a sweep varies nothing; give a value that varies."};
  if (varied_.size() > most_varied)
    throw BadValue{"a sweep varies " + std::to_string(varied_.size()) + " values; give at most 64."};
  const bool is_grid = plan.sampling == Sampling::grid;
  for (const Varied& varied : varied_) {
    if (!varied.values.empty()) continue;
    if (!(varied.low <= varied.high) || std::isinf(varied.high - varied.low))
      throw BadValue{varied.path + ": its range is from " + as_text(varied.low) + " to " + as_text(varied.high) +
                     "; give the lower end first."};
    if (is_grid && varied.count == 0)
      throw BadValue{varied.path + ": give how many numbers of its range, LOW:HIGH:COUNT."};
  }
  if (!is_grid) {
    plays_ = plan.plays;
    if (plays_ == 0) throw BadValue{"the number of plays is 0; give at least 1."};
  } else {
    for (const Varied& varied : varied_) plays_ = std::min(plays_ * count_of(varied), most_plays + 1);
  }
  if (plays_ > most_plays) throw BadValue{"a sweep has more than 1000000 plays; give fewer values."};
  if (!is_grid)
    shares_ = (plan.sampling == Sampling::sobol ? sobol : latin_hypercube)(plays_, varied_.size(), plan.seed);
}

std::vector<Value> SweptValues::of(std::size_t play) const {
  std::vector<Value> values(varied_.size());
  for (std::size_t i = varied_.size(), left = play; i-- > 0;) {
    const Varied& varied = varied_[i];
    const std::size_t count = count_of(varied);
    if (shares_.empty()) {
      const std::size_t index = left % count;
      left /= count;
      if (!varied.values.empty())
        values[i] = varied.values[index];
      else if (index + 1 == count && count > 1)
        values[i] = varied.high;
      else
        values[i] = index == 0 ? varied.low
                               : detail::rounded(varied.low + (varied.high - varied.low) * static_cast<double>(index) /
                                                                  static_cast<double>(count - 1),
                                                 12);  // 0.3 for 0.1 + 0.2
      continue;
    }
    const double share = shares_[play * varied_.size() + i];
    if (varied.values.empty())
      values[i] = varied.low + share * (varied.high - varied.low);
    else
      values[i] = varied.values[static_cast<std::size_t>(share * static_cast<double>(count))];
  }
  return values;
}

}  // namespace hushed
