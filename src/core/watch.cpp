// SPDX-License-Identifier: MIT
#include <hushed/watch.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include <hushed/detail/constants.hpp>
#include <hushed/detail/reading.hpp>
#include <hushed/detail/scene_access.hpp>
#include <hushed/error.hpp>
#include <hushed/scene.hpp>

namespace hushed {

namespace {

using Quantity = Watch::Quantity;
using Part = Watch::Part;

constexpr std::array<std::pair<std::string_view, Quantity>, 8> quantities{
    {{"position", Quantity::position},
     {"rotation", Quantity::rotation},
     {"scale", Quantity::scale},
     {"velocity", Quantity::velocity},
     {"acceleration", Quantity::acceleration},
     {"speed", Quantity::speed},
     {"angular_velocity", Quantity::angular_velocity},
     {"angular_speed", Quantity::angular_speed}}};

constexpr std::array<std::pair<std::string_view, Part>, 7> parts{{{"x", Part::x},
                                                                  {"y", Part::y},
                                                                  {"z", Part::z},
                                                                  {"w", Part::w},
                                                                  {"yaw", Part::yaw},
                                                                  {"pitch", Part::pitch},
                                                                  {"roll", Part::roll}}};

std::vector<std::string_view> parts_of(Quantity quantity) {
  switch (quantity) {
    case Quantity::rotation: return {"x", "y", "z", "w", "yaw", "pitch", "roll"};
    case Quantity::position:
    case Quantity::scale:
    case Quantity::velocity:
    case Quantity::acceleration:
    case Quantity::angular_velocity: return {"x", "y", "z"};
    case Quantity::speed:
    case Quantity::angular_speed:
    case Quantity::distance:
    case Quantity::bearing: break;
  }
  return {};
}

std::vector<std::string_view> names_of_quantities() {
  std::vector<std::string_view> names;
  for (const auto& [name, quantity] : quantities) names.push_back(name);
  return names;
}

[[noreturn]] void refuse(std::string_view watch, const std::string& text) {
  throw BadValue{"watch " + in_quotes(watch) + ": " + text};
}

Object object_called(std::string_view name, std::string_view watch, const detail::ObjectNames& names) {
  if (const Object found = names.object(name); found.generation != 0) return found;
  std::vector<std::string_view> all = names.objects();
  std::sort(all.begin(), all.end());
  refuse(watch, "no object " + in_quotes(name) + " in this scene" + suggestion(name, all));
}

class NamesOf final : public detail::ObjectNames {
 public:
  explicit NamesOf(const Scene& scene) : scene_{scene} {}
  Object object(std::string_view name) const override { return scene_.find(name).value_or(Object{}); }
  std::vector<std::string_view> objects() const override {
    if (names_.empty())
      for (const Object object : scene_.objects()) names_.push_back(scene_.name(object));
    return {names_.begin(), names_.end()};
  }

 private:
  const Scene& scene_;
  mutable std::vector<std::string> names_;  ///< computed when first needed
};

std::string_view trimmed(std::string_view text) {
  while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  return text;
}

double plain(double number) { return number == 0.0 ? 0.0 : number; }  // no -0

int axis_of(Part part) { return part == Part::x ? 0 : part == Part::y ? 1 : 2; }

void append(const Vec3& v, Part part, std::vector<double>& to) {
  if (part != Part::all) return to.push_back(plain(v[axis_of(part)]));
  for (const double number : v) to.push_back(plain(number));
}

void append(const Quat& rotation, Part part, std::vector<double>& to) {
  const Quat q = as_printed(rotation);
  const auto angles = [&] { return pitch_yaw_roll(q); };
  switch (part) {
    case Part::all:
      for (const double number : {q.x(), q.y(), q.z(), q.w()}) to.push_back(plain(number));
      return;
    case Part::x: return to.push_back(plain(q.x()));
    case Part::y: return to.push_back(plain(q.y()));
    case Part::z: return to.push_back(plain(q.z()));
    case Part::w: return to.push_back(plain(q.w()));
    case Part::yaw: return to.push_back(plain(angles().yaw.in_degrees()));
    case Part::pitch: return to.push_back(plain(angles().pitch.in_degrees()));
    case Part::roll: return to.push_back(plain(angles().roll.in_degrees()));
  }
}

/// The angle about +Y, from +Z, of the direction from one point to another.
double bearing(const Vec3& from, const Vec3& to) {
  const Vec3 way = to - from;
  if (way.x() == 0.0 && way.z() == 0.0) return 0.0;
  return wrapped(radians(std::atan2(way.x(), way.z()))).in_degrees();
}

}  // namespace

Watch::Watch(std::string_view text, const Scene& scene) : Watch{text, NamesOf{scene}} {}

Watch::Watch(std::string_view given, const detail::ObjectNames& names) : text_{trimmed(given)} {
  std::string_view rest = text_;
  if (rest.starts_with("local:")) {
    local_ = true;
    rest.remove_prefix(6);
  }
  for (const auto& [name, quantity] :
       {std::pair{std::string_view{"distance("}, Quantity::distance}, {"bearing(", Quantity::bearing}}) {
    if (!rest.starts_with(name)) continue;
    if (local_) refuse(text_, "the number does not depend on the space; remove local:.");
    rest.remove_prefix(name.size());
    const std::size_t comma = rest.find(',');
    if (comma == std::string_view::npos || !rest.ends_with(')'))
      refuse(text_, "expected two objects, such as " + std::string{name} + "tug,ferry).");
    quantity_ = quantity;
    object_ = object_called(trimmed(rest.substr(0, comma)), text_, names);
    other_ = object_called(trimmed(rest.substr(comma + 1, rest.size() - comma - 2)), text_, names);
    return;
  }

  const std::size_t first = rest.find('.');
  if (first == std::string_view::npos)
    refuse(text_,
           "the quantity is missing; give one, such as " + std::string{rest.empty() ? "lamp" : rest} + ".position.");
  object_ = object_called(rest.substr(0, first), text_, names);
  rest.remove_prefix(first + 1);
  const std::size_t second = rest.find('.');
  const std::string_view word = rest.substr(0, second);
  const auto quantity =
      std::find_if(quantities.begin(), quantities.end(), [&](const auto& q) { return q.first == word; });
  if (quantity == quantities.end())
    refuse(text_, "unknown quantity " + in_quotes(word) + suggestion(word, names_of_quantities()));
  quantity_ = quantity->second;
  if (second == std::string_view::npos) return;

  const std::string_view part = rest.substr(second + 1);
  const auto its_parts = parts_of(quantity_);
  if (std::find(its_parts.begin(), its_parts.end(), part) == its_parts.end())
    refuse(text_, its_parts.empty() ? std::string{word} + " is a single number; remove ." + std::string{part} + "."
                                    : std::string{word} + " has no " + in_quotes(part) + suggestion(part, its_parts));
  part_ = std::find_if(parts.begin(), parts.end(), [&](const auto& p) { return p.first == part; })->second;
}

std::vector<std::string> Watch::columns() const {
  if (part_ != Part::all) return {text_};
  std::vector<std::string> names;
  for (const std::string_view part : parts_of(quantity_))
    if (part.size() == 1) names.push_back(text_ + '.' + std::string{part});
  if (names.empty()) names.push_back(text_);
  return names;
}

bool Watch::is_known(const Scene& scene) const { return scene.alive(object_) && (!other() || scene.alive(*other())); }

int Watch::past_samples() const {
  switch (quantity_) {
    case Quantity::velocity:
    case Quantity::speed:
    case Quantity::angular_velocity:
    case Quantity::angular_speed: return 1;
    case Quantity::acceleration: return 2;
    default: return 0;
  }
}

std::string_view Watch::unit() const {
  switch (quantity_) {
    case Quantity::position:
    case Quantity::distance: return "m";
    case Quantity::rotation: return part_ == Part::yaw || part_ == Part::pitch || part_ == Part::roll ? "deg" : "";
    case Quantity::scale: return "";
    case Quantity::velocity:
    case Quantity::speed: return "m/s";
    case Quantity::acceleration: return "m/s\u00b2";
    case Quantity::angular_velocity:
    case Quantity::angular_speed: return "deg/s";
    case Quantity::bearing: return "deg";
  }
  return "";
}

Pose Watch::pose(const Scene& scene) const {
  return local_ ? detail::SceneAccess::local(scene, object_) : detail::SceneAccess::world(scene, object_);
}

std::optional<Object> Watch::other() const {
  const bool is_of_two = quantity_ == Quantity::distance || quantity_ == Quantity::bearing;
  return is_of_two ? std::optional{other_} : std::nullopt;
}

void Watch::read(const Scene& scene, std::vector<double>& to) const {
  read(pose(scene), other() ? detail::SceneAccess::world(scene, other_) : Pose{}, to);
}

void Watch::read(const Pose& now, const Pose& other, std::vector<double>& to) const {
  if (quantity_ == Quantity::distance) return to.push_back((other.position - now.position).stableNorm());
  if (quantity_ == Quantity::bearing) return to.push_back(plain(bearing(now.position, other.position)));
  if (quantity_ == Quantity::rotation) return append(now.rotation, part_, to);
  append(quantity_ == Quantity::scale ? now.scale : now.position, part_, to);
}

Watch::Motion Watch::motion(const Sample& two_back, const Sample& one_back, const Sample& now) {
  const auto rate = [](const Vec3& change, Time between) {
    return between > Time{0} ? Vec3{change / in_seconds(between)} : Vec3{Vec3::Zero()};
  };
  const Time step = now.time - one_back.time;
  const Vec3 velocity = rate(now.pose.position - one_back.pose.position, step);
  const Vec3 before = rate(one_back.pose.position - two_back.pose.position, one_back.time - two_back.time);
  const Vec3 turn = rotation_vector(now.pose.rotation * one_back.pose.rotation.conjugate());  // the shortest rotation
  return {velocity, rate(velocity - before, step), rate(turn, step)};
}

void Watch::read_motion(const Motion& motion, std::vector<double>& to) const {
  using detail::degrees_per_radian;
  switch (quantity_) {
    case Quantity::speed: return to.push_back(motion.velocity.stableNorm());
    case Quantity::angular_speed: return to.push_back(motion.turning.stableNorm() * degrees_per_radian);
    case Quantity::angular_velocity: return append(motion.turning * degrees_per_radian, part_, to);
    case Quantity::acceleration: return append(motion.acceleration, part_, to);
    default: return append(motion.velocity, part_, to);
  }
}

Quat as_printed(const Quat& q) {
  const std::array order{q.w(), q.x(), q.y(), q.z()};
  const auto first = std::find_if(order.begin(), order.end(), [](double part) { return part != 0.0; });
  return first != order.end() && *first < 0.0 ? Quat{-q.w(), -q.x(), -q.y(), -q.z()} : q;
}

std::vector<std::string> split_watches(std::string_view list) {
  std::vector<std::string> all;
  int depth = 0;
  std::size_t from = 0;
  for (std::size_t i = 0; i <= list.size(); ++i) {
    const char c = i < list.size() ? list[i] : ',';
    depth += c == '(' ? 1 : c == ')' ? -1 : 0;
    if (c != ',' || (depth > 0 && i < list.size())) continue;
    all.emplace_back(list.substr(from, i - from));
    from = i + 1;
  }
  return all;
}

}  // namespace hushed
