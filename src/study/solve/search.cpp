// SPDX-License-Identifier: MIT
#include "solve/search.hpp"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <exception>
#include <numeric>
#include <optional>
#include <utility>

#include <nlopt.hpp>

#include <hushed/sweep.hpp>

namespace hushed::detail {

namespace {

constexpr double does_not_exist = 10.0;  ///< the relative deviation of a measure that does not exist
constexpr double inside = 1e-4;          ///< how far inside a limit a measure should be, relative to the limit
constexpr double solved = 1e-17;         ///< the cost that cannot be improved

/// How far a measure is from its wish, relative to the wished value.
double deviation(const Wish& wish, const std::optional<double>& measured) {
  if (!measured) return does_not_exist;
  const double apart = (*measured - wish.value) / (wish.value == 0.0 ? 1.0 : std::abs(wish.value));
  switch (wish.relation) {
    case Wish::Relation::below: return std::max(apart + inside, 0.0);
    case Wish::Relation::above: return std::max(inside - apart, 0.0);
    default: return apart;
  }
}

double distance(const std::vector<double>& a, const std::vector<double>& b) {
  double sum = 0.0;
  for (std::size_t i = 0; i < a.size(); ++i) sum += (a[i] - b[i]) * (a[i] - b[i]);
  return std::sqrt(sum);
}

std::vector<std::string> paths_of(const std::vector<Change>& changes) {
  std::vector<std::string> paths;
  for (const Change& change : changes) paths.push_back(change.path);
  return paths;
}

std::vector<std::string> measures_of(const std::vector<Wish>& wishes) {
  std::vector<std::string> measures;
  for (const Wish& wish : wishes) measures.push_back(wish.measure);
  return measures;
}

}  // namespace

Search::Search(const std::function<Scene()>& make, const std::vector<Change>& changes, const std::vector<Wish>& wishes,
               const SolveOptions& options)
    : changes_{changes}, wishes_{wishes}, options_{options} {
  const std::size_t count = stages_for(options.threads, options.plays);
  for (std::size_t i = 0; i < count; ++i) stages_.emplace_back(make(), paths_of(changes), measures_of(wishes));
}

Together Search::all() const {
  Together wishes(wishes_.size());
  std::iota(wishes.begin(), wishes.end(), std::size_t{0});
  return wishes;
}

double Search::share_of(std::size_t change, double number) const {
  const auto& [path, low, high] = changes_[change];
  return std::clamp((number - low) / (high - low), 0.0, 1.0);
}

double Search::number_at(std::size_t change, double share) const {
  const auto& [path, low, high] = changes_[change];
  return share == 1.0 ? high : low + share * (high - low);
}

void Search::check_limits() {
  met_ = 0;
  const Trial* const found = trials_.empty() ? nullptr : &best(all());
  for (std::size_t i = 0; found && i < wishes_.size(); ++i) met_ += wishes_[i].is_met_by(found->measured[i]) ? 1 : 0;
  if (options_.goes_on && !options_.goes_on(trials_.size(), met_)) throw SearchEnds{true};
  const std::chrono::duration<double> passed = std::chrono::steady_clock::now() - start_;
  if (static_cast<double>(trials_.size()) >= limit_ * static_cast<double>(options_.plays) ||
      passed.count() >= limit_ * in_seconds(options_.time))
    throw SearchEnds{false};
}

std::vector<std::optional<double>> Search::measured(Stage& stage, const std::vector<Value>& values) const {
  std::function<bool(double)> goes_on;  // only the calling thread may call the program
  if (options_.goes_on && &stage == &stages_.front())
    goes_on = [this](double) { return options_.goes_on(trials_.size(), met_); };
  std::vector<std::optional<double>> numbers;
  for (const Measured& each : stage.play(values, options_.length, goes_on)) numbers.push_back(each.value);
  if (numbers.empty()) throw SearchEnds{true};
  return numbers;
}

std::vector<std::optional<double>> Search::before() { return measured(stages_.front(), {}); }

const Trial& Search::play(std::vector<double> shares) {
  const auto known =
      std::find_if(trials_.begin(), trials_.end(), [&](const Trial& each) { return each.shares == shares; });
  if (known != trials_.end()) return *known;
  check_limits();
  std::vector<Value> values;
  for (std::size_t i = 0; i < shares.size(); ++i) values.emplace_back(number_at(i, shares[i]));
  std::vector<std::optional<double>> numbers = measured(stages_.front(), values);
  return trials_.emplace_back(Trial{std::move(shares), std::move(numbers)});
}

void Search::play_many(std::size_t count, std::uint64_t seed) {
  check_limits();
  const double left = std::max(limit_ * static_cast<double>(options_.plays) - static_cast<double>(trials_.size()), 1.0);
  SweepPlan plan{.varied = {}, .measures = {}, .sampling = Sampling::sobol, .seed = seed};
  plan.plays = std::min(count, static_cast<std::size_t>(left));
  for (const Change& change : changes_) plan.varied.push_back({.path = change.path, .low = 0.0, .high = 1.0});
  const SweptValues points{plan};
  std::vector<Trial> found(plan.plays);
  std::atomic<std::size_t> next = 0;
  std::atomic<bool> ends = false;
  const auto keep_finished = [&] {
    for (Trial& trial : found)
      if (!trial.measured.empty()) trials_.push_back(std::move(trial));
  };
  const auto work = [&](Stage& stage) {
    for (std::size_t i = next++; i < found.size() && !ends; i = next++) {
      std::vector<Value> values;
      Trial trial;
      for (const Value& share : points.of(i)) {
        trial.shares.push_back(share.number().value());
        values.emplace_back(number_at(values.size(), trial.shares.back()));
      }
      trial.measured = measured(stage, values);
      found[i] = std::move(trial);
      if (&stage == &stages_.front()) check_limits();
    }
  };
  try {
    on_all(stages_, work, [&] { ends = true; });
  } catch (const SearchEnds&) {
    keep_finished();
    throw;
  }
  keep_finished();
}

void Search::cross(std::size_t wish, double near) {
  struct Side {
    double share, apart;  ///< how far from the wished value
  };
  const auto side_of = [&](const Trial& trial) {
    return Side{trial.shares[0], deviation(wishes_[wish], trial.measured[wish])};
  };
  std::vector<Side> sides;
  for (const Trial& trial : trials_)
    if (trial.measured[wish]) sides.push_back(side_of(trial));
  std::sort(sides.begin(), sides.end(), [](const Side& a, const Side& b) { return a.share < b.share; });
  std::optional<std::pair<Side, Side>> nearest;
  const auto distance_of = [&](const Side& a, const Side& b) {
    return std::max({a.share - near, near - b.share, 0.0});
  };
  for (std::size_t i = 0; i + 1 < sides.size(); ++i)
    if (sides[i].apart * sides[i + 1].apart < 0.0 &&
        (!nearest || distance_of(sides[i], sides[i + 1]) < distance_of(nearest->first, nearest->second)))
      nearest = {sides[i], sides[i + 1]};
  if (!nearest) return;
  auto [a, b] = *nearest;
  int stays = 0;  // -1: the lower end has stayed in the last step, 1: the upper one
  constexpr int most_steps = 60;
  for (int step = 0; step < most_steps && b.share - a.share > 1e-13; ++step) {
    const double part = std::clamp(a.apart / (a.apart - b.apart), 1e-3, 1.0 - 1e-3);
    const Trial& trial = play({a.share + (step % 8 == 7 ? 0.5 : part) * (b.share - a.share)});
    const Side here = side_of(trial);
    if (!trial.measured[wish] || here.apart * here.apart < solved) return;
    const int now = (here.apart > 0.0) == (b.apart > 0.0) ? -1 : 1;
    (now < 0 ? b : a) = here;
    if (now == stays) (now < 0 ? a : b).apart *= 0.5;  // Illinois: an end that stays loses weight
    stays = now;
  }
}

void Search::improve(const Trial& from, const Together& wishes, int plays_each) {
  const std::size_t count = changes_.size();
  std::vector<double> shares = from.shares;
  // A model of second degree needs two numbers; one number is searched for by a simplex.
  nlopt::opt local{count > 1 ? nlopt::LN_BOBYQA : nlopt::LN_NELDERMEAD, static_cast<unsigned>(count)};
  local.set_lower_bounds(0.0);
  local.set_upper_bounds(1.0);
  local.set_initial_step(0.1);
  local.set_xtol_abs(1e-10);
  local.set_stopval(solved);
  local.set_ftol_abs(1e-22);  // a count does not change from play to play
  local.set_maxeval(plays_each * static_cast<int>(count));
  struct Objective {
    Search& search;
    const Together& wishes;
    std::exception_ptr failure;
    static double at(const std::vector<double>& point, std::vector<double>&, void* self) {
      auto& objective = *static_cast<Objective*>(self);
      try {
        return objective.search.cost(objective.search.play(point), objective.wishes);
      } catch (...) {  // the library lets only its own exceptions through
        objective.failure = std::current_exception();
        throw nlopt::forced_stop{};
      }
    }
  } objective{*this, wishes, nullptr};
  local.set_min_objective(Objective::at, &objective);
  double least = 0.0;
  try {
    local.optimize(shares, least);
  } catch (const nlopt::forced_stop&) {
    std::rethrow_exception(objective.failure);
  } catch (const nlopt::roundoff_limited&) {  // as good as it gets
  }
}

void Search::run(const Together& wishes) {
  constexpr std::size_t rounds = 4, starts = 3;
  constexpr int short_search = 12;
  const bool is_crossing =
      changes_.size() == 1 && wishes.size() == 1 && wishes_[wishes[0]].relation == Wish::Relation::equal;
  if (is_crossing && !meets(best(wishes), wishes)) {
    const double present = trials_.front().shares[0];
    play({0.0});
    play({1.0});
    play_many(6, options_.seed + rounds);
    cross(wishes[0], present);
  }
  if (!meets(best(wishes), wishes)) improve(Trial{best(wishes)}, wishes, short_search);
  for (std::size_t round = 0; round < rounds; ++round) {
    if (meets(best(wishes), wishes)) break;
    play_many((16 * changes_.size()) << round, options_.seed + round);
    for (const Trial& start : apart(wishes, starts)) {
      improve(start, wishes);
      if (meets(best(wishes), wishes)) break;
    }
  }
  if (cost(best(wishes), wishes) > solved) improve(Trial{best(wishes)}, wishes);
}

bool Search::meets(const Trial& trial, const Together& wishes) const {
  return std::all_of(wishes.begin(), wishes.end(),
                     [&](std::size_t i) { return wishes_[i].is_met_by(trial.measured[i]); });
}

double Search::cost(const Trial& trial, const Together& wishes) const {
  double sum = 0.0;
  for (const std::size_t i : wishes) {
    const double apart = deviation(wishes_[i], trial.measured[i]);
    sum += wishes_[i].weight * apart * apart;
  }
  return sum;
}

const Trial& Search::best(const Together& wishes) const {
  return *std::min_element(trials_.begin(), trials_.end(),
                           [&](const Trial& a, const Trial& b) { return cost(a, wishes) < cost(b, wishes); });
}

std::vector<Trial> Search::apart(const Together& wishes, std::size_t count) const {
  std::vector<const Trial*> sorted;
  for (const Trial& trial : trials_) sorted.push_back(&trial);
  std::stable_sort(sorted.begin(), sorted.end(),
                   [&](const Trial* a, const Trial* b) { return cost(*a, wishes) < cost(*b, wishes); });
  std::vector<Trial> found;
  for (const Trial* const trial : sorted) {
    const bool is_apart = std::all_of(found.begin(), found.end(),
                                      [&](const Trial& other) { return distance(trial->shares, other.shares) > 0.1; });
    if (is_apart) found.push_back(*trial);
    if (found.size() == count) break;
  }
  return found;
}

}  // namespace hushed::detail
