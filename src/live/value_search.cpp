// SPDX-License-Identifier: MIT
#include "value_search.hpp"

#include <chrono>
#include <memory>
#include <utility>

#include <hushed/detail/rounded.hpp>
#include <hushed/error.hpp>
#include <hushed/one_value.hpp>

namespace hushed::detail {

namespace {

constexpr double longest_play = 3600.0, longest_search = 120.0;
constexpr std::size_t most_plays = 2000;
constexpr std::chrono::milliseconds between_news{200};

Json number_or_null(const std::optional<double>& value) { return value ? Json(*value) : Json(nullptr); }

Json measured_in_json(const Measure& measure, const Measured& found) {
  return {{"kind", "measured"},
          {"measure", measure.text()},
          {"unit", measure.unit()},
          {"value", number_or_null(found.value)},
          {"at", found.at ? Json(in_seconds(*found.at)) : Json(nullptr)}};
}

Json found_in_json(const Solution& solution, const std::string& want) {
  const Solution::Result& result = solution.results.front();
  return {{"kind", "found"},
          {"path", solution.numbers.front().path},
          {"want", want},
          {"unit", result.unit},
          {"before", number_or_null(result.before)},
          {"after", number_or_null(result.after)},
          {"value", rounded(solution.numbers.front().after, 6)},
          {"met", result.is_met},
          {"plays", solution.plays},
          {"complete", solution.is_complete}};
}

}  // namespace

void ValueSearch::tell(News news) {
  const std::scoped_lock held{lock_};
  news_.push_back(std::move(news));
}

std::vector<ValueSearch::News> ValueSearch::news() {
  const std::scoped_lock held{lock_};
  return std::exchange(news_, {});
}

void ValueSearch::stop() {
  is_stopped_ = true;
  if (worker_.joinable()) worker_.join();
  is_stopped_ = false;
}

void ValueSearch::leave(int client) {
  if (is_working_ && client == client_) stop();
}

void ValueSearch::begin(int client, const Request& request, Scene scene) {
  if (is_working_ && client != client_)
    throw BadValue{"another page is searching; wait until it has found something, or stop it there."};
  const double length = request.number("seconds");
  if (!(length > 0.0 && length <= longest_play))
    throw BadValue{"seconds: give a number above 0, at most " + as_text(longest_play) + "."};
  std::function<void(Scene)> work;
  if (request.text("do") == "measure") {
    const std::string text = request.text("measure");
    static_cast<void>(Measure{text, scene});  // throws where it is none
    work = [this, client, text, length](Scene measured) {
      const Measure one{text, measured};
      const auto goes_on = [this](double) { return !is_stopped_; };
      const std::vector<Measured> found = measure(measured, {&one, 1}, seconds(length), goes_on);
      if (!found.empty()) tell({client, measured_in_json(one, found.front())});
    };
  } else {
    const Change change{request.text("path"), request.number("low"), request.number("high")};
    const std::string want = request.text("want");
    const Wish wish = Wish::read(want, scene);
    static_cast<void>(OneValue{change.path, scene}.number(scene));
    if (!(change.low < change.high)) throw BadValue{"high: give a number above low."};
    work = [this, client, change, want, wish, length](Scene searched) {
      SolveOptions options{
          .length = seconds(length), .plays = most_plays, .time = seconds(longest_search), .threads = 1};
      auto next = std::chrono::steady_clock::now() + between_news;
      options.goes_on = [&](std::size_t plays, std::size_t) {
        if (const auto now = std::chrono::steady_clock::now(); now >= next) {
          next = now + between_news;
          tell({client, {{"kind", "finding"}, {"path", change.path}, {"plays", plays}, {"most", most_plays}}});
        }
        return !is_stopped_;
      };
      const auto given = std::make_shared<Scene>(std::move(searched));  // one thread asks for one scene
      const Solution solution = solve([given] { return std::move(*given); }, {change}, {wish}, options);
      if (solution.results.empty()) return;
      News news{client, found_in_json(solution, want), std::nullopt, change.path};
      if (solution.is_met()) news.found = rounded(solution.numbers.front().after, 6);
      tell(std::move(news));
    };
  }
  stop();
  client_ = client;
  is_working_ = true;
  worker_ = std::jthread{[this, client, work = std::move(work), what = request.text("do"),
                          mine = std::make_shared<Scene>(std::move(scene))] {
    try {
      work(std::move(*mine));
    } catch (const std::exception& error) {
      tell({client, {{"kind", "refused"}, {"do", what}, {"text", error.what()}}});
    }
    is_working_ = false;
  }};
}

Json measures_in_json() {
  Json list = Json::array();
  for (const MeasureInfo& each : measure_kinds())
    list.push_back({{"name", each.name}, {"usage", each.usage}, {"unit", each.unit}, {"help", each.help}});
  return {{"kind", "measures"}, {"measures", list}};
}

}  // namespace hushed::detail
