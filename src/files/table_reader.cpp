#include "table_reader.hpp"

#include <algorithm>
#include <cmath>

#include <hushed/own.hpp>

namespace hushed::inside {

namespace {

const Value::Table no_table;

/// [x, y, z, w], brought to unit length where it is within a thousandth of it.
std::optional<Complaint> read_quaternion(const Value& from, Quat& to) {
  const auto* list = from.as<Value::List>();
  if (!list || list->size() != 4) return Complaint{from.place, "give four numbers, [x, y, z, w]."};
  double parts[4];
  for (std::size_t i = 0; i < 4; ++i)
    if (auto complaint = read((*list)[i], unit::none, parts[i])) return complaint;
  const Quat quaternion{parts[3], parts[0], parts[1], parts[2]};
  const double length = quaternion.coeffs().norm();
  if (length == 0.0) return Complaint{from.place, "this has no length; no turn at all is [0, 0, 0, 1]."};
  if (std::abs(length - 1.0) > 1e-3)
    return Complaint{from.place,
                     "this is " + as_text(length) + " long; a rotation has length 1, so divide its numbers by that."};
  Pose sound{.rotation = quaternion};
  make_sound(sound);
  to = sound.rotation;
  return std::nullopt;
}

}  // namespace

TableReader::TableReader(const Value& table, std::string whose, Complaints& complaints)
    : table_{table.as<Value::Table>()}, place_{table.place}, whose_{std::move(whose)}, complaints_{complaints} {
  if (table_) return;
  table_ = &no_table;
  complain(place_, "this is " + std::string{table.kind_in_words()} + "; give a table.");
}

const Value::Entry* TableReader::find(std::string_view key) {
  if (std::find(known_.begin(), known_.end(), key) == known_.end()) known_.push_back(key);
  const auto found =
      std::find_if(table_->begin(), table_->end(), [key](const Value::Entry& entry) { return entry.key == key; });
  return found == table_->end() ? nullptr : &*found;
}

bool TableReader::read_text(std::string_view key, std::string& to) {
  const Value::Entry* entry = find(key);
  if (!entry) return false;
  const auto* text = entry->value.as<std::string>();
  if (!text)
    return accept(key, Complaint{entry->value.place,
                                 "this is " + std::string{entry->value.kind_in_words()} + "; give a name in quotes."});
  to = *text;
  return true;
}

bool TableReader::read_names(std::string_view key, std::vector<Value>& to) {
  const Value::Entry* entry = find(key);
  if (!entry) return false;
  const auto* list = entry->value.as<Value::List>();
  const bool all_text = list && std::all_of(list->begin(), list->end(),
                                            [](const Value& item) { return item.as<std::string>() != nullptr; });
  if (!all_text) return accept(key, Complaint{entry->value.place, "give a list of words, such as [\"one\", \"two\"]."});
  to = *list;
  return true;
}

bool TableReader::read_size(std::string_view key, const Unit& unit, Vec3& to) {
  const Value::Entry* entry = find(key);
  if (!entry) return false;
  if (!entry->value.number()) return accept(key, hushed::inside::read(entry->value, unit, to));
  double all = 1.0;
  const bool taken = accept(key, hushed::inside::read(entry->value, unit, all));
  if (taken) to = Vec3::Constant(all);
  return taken;
}

void TableReader::complain(TextPlace place, const std::string& text) {
  complaints_.push_back({place, whose_.empty() ? text : whose_ + ": " + text});
}

bool TableReader::accept(std::string_view key, std::optional<Complaint> complaint) {
  if (complaint) complain(complaint->place, std::string{key} + ": " + complaint->text);
  return !complaint;
}

void TableReader::refuse_the_rest() {
  for (const Value::Entry& entry : *table_)
    if (std::find(known_.begin(), known_.end(), entry.key) == known_.end())
      complain(entry.place, "there is no " + in_quotes(entry.key) + " here" + suggestion(entry.key, known_));
}

Pose read_pose(TableReader& table) {
  Pose pose;
  table.read("position", unit::metres, pose.position);
  table.read_size("scale", unit::none, pose.scale);

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
    const std::size_t before = table.complaints().size();
    TableReader turn{entry->value, table.whose() + ".axis_angle", table.complaints()};
    Vec3 axis = up;
    Angle angle;
    const bool has_axis = turn.read("axis", unit::direction, axis);
    const bool has_angle = turn.read("angle", unit::degrees, angle);
    turn.refuse_the_rest();
    if (table.complaints().size() > before) return pose;
    if (!has_axis || !has_angle)
      turn.complain(entry->place, "give both axis and angle, such as { axis = [0, 1, 0], angle = 30 }.");
    else
      pose.rotation = rotation(axis, angle);
  }
  if (ways > 1)
    table.complain(table.place(),
                   "its rotation is given in more than one way; keep one of rotation, axis_angle and "
                   "quaternion.");
  return pose;
}

}  // namespace hushed::inside
