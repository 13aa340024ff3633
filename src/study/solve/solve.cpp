// SPDX-License-Identifier: MIT
#include <hushed/solve.hpp>

#include <algorithm>
#include <cmath>

#include <hushed/behaviour/spring.hpp>
#include <hushed/error.hpp>
#include <hushed/value.hpp>

#include "measure/words.hpp"
#include "solve/search.hpp"

namespace hushed {

namespace {

using detail::Search;
using detail::SearchEnds;
using detail::Together;
using detail::Trial;

constexpr double probe = 0.01;  ///< of a range, for sensitivities
/// Of the plays and the time: for the search, until it is known which wishes conflict; then for sensitivities.
constexpr double first_part = 0.6, second_part = 0.95;

void check(const std::vector<Change>& changes, const std::vector<Wish>& wishes) {
  if (changes.empty()) throw BadValue{"nothing may change; give a number that may, and its range."};
  if (wishes.empty()) throw BadValue{"nothing is wished; give a wish."};
  for (const Change& change : changes)
    if (!(change.low < change.high) || !std::isfinite(change.high - change.low))
      throw BadValue{change.path + ": its range is from " + as_text(change.low) + " to " + as_text(change.high) +
                     "; give the lower end first."};
}

/// Where the frequency and the damping of one behaviour may change, and an overshoot and a settling time are wished:
/// those of a spring, as shares of their ranges. Only a guess: the behaviour may be something else.
std::optional<std::vector<double>> guess_spring(const Search& search, const std::vector<Change>& changes,
                                                const std::vector<Wish>& wishes) {
  if (changes.size() != 2 || wishes.size() != 2) return std::nullopt;
  const auto named = [&](std::string_view end) {
    return std::find_if(changes.begin(), changes.end(), [&](const Change& each) { return each.path.ends_with(end); });
  };
  const auto measuring = [&](std::string_view name) -> std::optional<std::size_t> {
    for (std::size_t i = 0; i < wishes.size(); ++i)
      if (search.stage().measures()[i].name() == name && wishes[i].relation == Wish::Relation::equal) return i;
    return std::nullopt;
  };
  const auto frequency = named(".frequency"), damping = named(".damping");
  const auto overshoot = measuring("overshoot"), settled = measuring("settled");
  if (frequency == changes.end() || damping == changes.end() || !overshoot || !settled) return std::nullopt;
  const detail::MeasureArguments& given = detail::MeasureAccess::arguments(search.stage().measures()[*settled]);
  if (!given.is_share) return std::nullopt;
  try {
    const Spring spring = spring_for(wishes[*overshoot].value / 100.0, seconds(wishes[*settled].value), given.within);
    std::vector<double> shares(2);
    for (std::size_t i = 0; i < 2; ++i)
      shares[i] = search.share_of(
          i, changes.begin() + static_cast<std::ptrdiff_t>(i) == frequency ? spring.frequency : spring.damping);
    return shares;
  } catch (const BadValue&) {
    return std::nullopt;
  }
}

/// Which wishes conflict: each that cannot be fulfilled alone, or else each two, or else all.
std::vector<Solution::Conflict> conflicts_in(Search& search) {
  const Together all = search.all();
  const auto can_be_met = [&](const Together& wishes) {
    search.run(wishes);
    return search.meets(search.best(wishes), wishes);
  };
  std::vector<Solution::Conflict> found;
  for (const std::size_t wish : all)
    if (!can_be_met({wish})) found.push_back({wish});
  if (!found.empty()) return found;
  for (std::size_t a = 0; a < all.size(); ++a)
    for (std::size_t b = a + 1; b < all.size(); ++b)
      if (!can_be_met({a, b})) found.push_back({a, b});
  if (found.empty()) found.push_back(all);
  return found;
}

void find_sensitivities(Search& search, const Trial& at, std::vector<Solution::Result>& results) {
  for (std::size_t change = 0; change < at.shares.size(); ++change) {
    std::vector<double> below = at.shares, above = at.shares;
    below[change] = std::max(below[change] - probe, 0.0);
    above[change] = std::min(above[change] + probe, 1.0);
    const double width = (above[change] - below[change]) / probe;
    const Trial low = search.play(below), high = search.play(above);
    for (std::size_t wish = 0; wish < results.size(); ++wish)
      if (low.measured[wish] && high.measured[wish])
        results[wish].sensitivity[change] = (*high.measured[wish] - *low.measured[wish]) / width;
  }
}

/// Calls a part of the search. Returns whether it came to its end; throws where the caller stopped it.
template <class Part>
bool finishes(Part&& part) {
  try {
    part();
    return true;
  } catch (const SearchEnds& end) {
    if (end.is_stopped) throw;
    return false;
  }
}

}  // namespace

bool Solution::is_met() const {
  return std::all_of(results.begin(), results.end(), [](const Result& each) { return each.is_met; });
}

Solution solve(const std::function<Scene()>& make, const std::vector<Change>& changes, const std::vector<Wish>& wishes,
               const SolveOptions& options) {
  check(changes, wishes);
  Search search{make, changes, wishes, options};
  const Together all = search.all();
  Solution solution;
  std::vector<double> present;
  for (std::size_t i = 0; i < changes.size(); ++i) {
    const double number = search.stage().values()[i].number(search.stage().scene());
    solution.numbers.push_back({changes[i].path, number, number});
    present.push_back(search.share_of(i, number));
  }
  std::vector<std::optional<double>> before(wishes.size());
  bool is_stopped = false;
  try {
    before = search.before();
    search.set_limit(first_part);
    solution.is_complete = finishes([&] {
      search.play(present);
      if (const auto guess = guess_spring(search, changes, wishes)) search.play(*guess);
      search.run(all);
    });
    if (!search.meets(search.best(all), all)) {
      search.set_limit(second_part);
      solution.is_complete = finishes([&] { solution.conflicts = conflicts_in(search); }) && solution.is_complete;
    }
  } catch (const SearchEnds&) {
    is_stopped = true;
    solution.is_complete = false;
  }
  if (search.plays() == 0) return solution;
  const Trial best = search.best(all);
  for (std::size_t i = 0; i < changes.size(); ++i) solution.numbers[i].after = search.number_at(i, best.shares[i]);
  for (std::size_t i = 0; i < wishes.size(); ++i)
    solution.results.push_back({wishes[i], std::string{search.stage().measures()[i].unit()}, before[i],
                                best.measured[i], wishes[i].is_met_by(best.measured[i]),
                                std::vector<std::optional<double>>(changes.size())});
  solution.plays = search.plays();
  if (is_stopped) return solution;
  try {
    search.set_limit(1.0);
    finishes([&] { find_sensitivities(search, best, solution.results); });
  } catch (const SearchEnds&) {  // they stay unknown
  }
  return solution;
}

}  // namespace hushed
