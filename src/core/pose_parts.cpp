// SPDX-License-Identifier: MIT
#include <hushed/pose_parts.hpp>

#include <cmath>

#include <hushed/detail/table_reader.hpp>
#include <hushed/own.hpp>

namespace hushed {

using detail::Diagnostics;
using detail::TableReader;

namespace {

/// [x, y, z, w], normalised where its length differs from 1 by at most 0.001.
std::optional<Diagnostic> read_quaternion(const Value& from, std::optional<Quat>& to) {
  const auto* list = from.as<Value::List>();
  if (!list || list->size() != 4) return Diagnostic{from.place, "expected four numbers, [x, y, z, w]."};
  double parts[4];
  for (std::size_t i = 0; i < 4; ++i)
    if (auto diagnostic = detail::read((*list)[i], unit::none, parts[i])) return diagnostic;
  const Quat quaternion{parts[3], parts[0], parts[1], parts[2]};
  const double length = quaternion.coeffs().norm();
  if (length == 0.0)
    return Diagnostic{from.place, "all four numbers are 0; the rotation that changes nothing is [0, 0, 0, 1]."};
  if (std::abs(length - 1.0) > 1e-3)
    return Diagnostic{from.place, "the length is " + as_text(length) +
                                      "; a rotation has length 1, so divide the numbers by this length."};
  Pose sound{.rotation = quaternion};
  detail::make_sound(sound);
  to = sound.rotation;
  return std::nullopt;
}

}  // namespace

Pose PoseParts::over(const Pose& pose) const {
  return {position.value_or(pose.position), rotation.value_or(pose.rotation), scale.value_or(pose.scale)};
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, PoseParts& to) {
  if (const auto* name = from.as<std::string>()) {
    to = {.name = *name};
    return std::nullopt;
  }
  if (!from.as<Value::Table>())
    return detail::expected(from, form_of(static_cast<const PoseParts*>(nullptr), unit).description);
  Diagnostics diagnostics;
  TableReader table{from, "", diagnostics};
  PoseParts parts = read_parts(table);
  table.refuse_the_rest();
  if (diagnostics.empty() && parts.empty())
    table.report(from.place, "the pose is empty; give a position, a rotation or a scale.");
  if (!diagnostics.empty()) return diagnostics.front();
  to = std::move(parts);
  return std::nullopt;
}

std::optional<Value> write(const PoseParts& from, const Unit&) {
  if (!from.name.empty()) return Value{from.name};
  Value::Table table;
  if (from.position) table.push_back({"position", {}, detail::three(*from.position)});
  if (const auto& turn = from.rotation)
    table.push_back({"quaternion", {}, Value{Value::List{turn->x(), turn->y(), turn->z(), turn->w()}}});
  if (from.scale) table.push_back({"scale", {}, detail::three(*from.scale)});
  return Value{std::move(table)};
}

Form form_of(const PoseParts*, const Unit&) {
  return form::any_of({form::text("the name of a pose"), detail::form_of_parts()},
                      "the name of a pose of the object, or a table such as { position = [x, y, z] }");
}

std::optional<Diagnostic> PoseParts::check() const {
  if (auto diagnostic = detail::check_any(position, unit::metres)) return diagnostic;
  if (auto diagnostic = detail::check_any(scale, unit::none)) return diagnostic;
  if (rotation && !(std::abs(rotation->coeffs().squaredNorm() - 1.0) < 2e-3))
    return Diagnostic{{}, "the rotation does not have length 1; normalise it."};
  return std::nullopt;
}

std::optional<Diagnostic> resolve(PoseParts& to, const detail::Names& names) {
  if (to.name.empty()) return std::nullopt;
  const PoseParts* found = names.pose(to.name);
  if (!found) {
    const auto known = names.poses();
    return Diagnostic{{},
                      known.empty() ? "the object has no pose " + in_quotes(to.name) +
                                          "; give it one, [object.NAME.pose." + to.name + "]."
                                    : "the object has no pose " + in_quotes(to.name) + suggestion(to.name, known)};
  }
  to = *found;
  return std::nullopt;
}

bool operator==(const PoseParts& a, const PoseParts& b) {
  const auto turn = [](const PoseParts& parts) { return parts.rotation.value_or(Quat::Identity()).coeffs(); };
  return a.position == b.position && a.scale == b.scale && a.rotation.has_value() == b.rotation.has_value() &&
         turn(a) == turn(b);
}

namespace detail {

PoseParts read_parts(TableReader& table) {
  PoseParts pose;
  table.read("position", unit::metres, pose.position);
  if (Vec3 scale = Vec3::Ones(); table.read_size("scale", unit::none, scale)) pose.scale = scale;

  int ways = 0;
  Vec3 angles = Vec3::Zero();
  if (table.has("rotation")) {
    ++ways;
    if (table.read("rotation", unit::degrees, angles))
      pose.rotation = rotation(degrees(angles.x()), degrees(angles.y()), degrees(angles.z()));
  }
  if (const auto* entry = table.find("quaternion")) {
    ++ways;
    table.accept("quaternion", read_quaternion(entry->value, pose.rotation));
  }
  if (const auto* entry = table.find("axis_angle")) {
    ++ways;
    const std::size_t before = table.diagnostics().size();
    TableReader turn{entry->value, table.whose() + ".axis_angle", table.diagnostics()};
    Vec3 axis = axis::up;
    Angle angle;
    const bool has_axis = turn.read("axis", unit::direction, axis);
    const bool has_angle = turn.read("angle", unit::degrees, angle);
    turn.refuse_the_rest();
    if (table.diagnostics().size() > before) return pose;
    if (!has_axis || !has_angle)
      turn.report(entry->place, "expected both axis and angle, such as { axis = [0, 1, 0], angle = 30 }.");
    else
      pose.rotation = rotation(axis, angle);
  }
  if (ways > 1)
    table.report(table.place(),
                 "the rotation is given in more than one way; give only one of rotation, axis_angle and "
                 "quaternion.");
  return pose;
}

Form form_of_parts() {
  const Form number = form::number(unit::none), three = form::three(unit::none);
  return form::table({{"position", form::three(unit::metres)},
                      {"rotation", form::three(unit::degrees)},
                      {"axis_angle", form::table({{"axis", form_of(static_cast<const Vec3*>(nullptr), unit::direction)},
                                                  {"angle", form::number(unit::degrees)}},
                                                 "an axis and an angle")},
                      {"quaternion", form::list(number, 4, 4, "four numbers, [x, y, z, w]")},
                      {"scale", form::any_of({number, three}, "a number, or three, [x, y, z]")}},
                     "parts of a pose");
}

}  // namespace detail
}  // namespace hushed
