// SPDX-License-Identifier: MIT
#include <hushed/detail/kind.hpp>

#include <algorithm>
#include <cmath>

namespace hushed {

namespace {

/// A bound of a range: the largest ones are written as powers.
std::string range_text(double bound) {
  if (std::abs(bound) != 1e9) return as_text(bound);
  return bound > 0.0 ? "1e9" : "-1e9";
}

std::optional<Diagnostic> read_number(const Value& from, const Unit& unit, bool infinite_too, double& to) {
  const auto number = from.number();
  if (!number) return detail::expected(from, form::number(unit).description);
  if (std::isnan(*number))
    return Diagnostic{from.place, "found nan, which is not a number; give " + form::number(unit).description + "."};
  if (std::isinf(*number) && !infinite_too)
    return Diagnostic{from.place, "found an infinite number; give " + form::number(unit).description + "."};
  if (std::isfinite(*number) && (*number < unit.low || *number > unit.high)) {
    const std::string unit_of_it = unit.symbol.empty() ? "" : " (" + std::string{unit.symbol} + ")";
    const std::string allowed = "a number from " + range_text(unit.low) + " to " + range_text(unit.high);
    return Diagnostic{from.place, as_text(*number) + " is out of range; give " + allowed + unit_of_it + "."};
  }
  to = *number;
  return std::nullopt;
}

std::optional<Diagnostic> read_three(const Value& from, const Unit& unit, bool infinite_too, Vec3& to) {
  const auto* list = from.as<Value::List>();
  if (!list || list->size() != 3) return detail::expected(from, "three numbers, [x, y, z]");
  for (int axis = 0; axis < 3; ++axis)
    if (auto diagnostic = read_number((*list)[static_cast<std::size_t>(axis)], unit, infinite_too, to[axis]))
      return diagnostic;
  return std::nullopt;
}

std::optional<Vec3> axis_called(std::string_view name) {
  const bool backwards = name.starts_with('-');
  if (backwards) name.remove_prefix(1);
  const Vec3 axis = name == "x"   ? axis::right
                    : name == "y" ? axis::up
                    : name == "z" ? axis::forward
                                  : Vec3{Vec3::Zero()};
  if (axis.isZero(0.0)) return std::nullopt;
  return backwards ? Vec3{-axis} : axis;
}

}  // namespace

std::optional<Diagnostic> FieldInfo::put(void* owner, const std::optional<Value>& value) const {
  if (value) return set(owner, *value);
  reset(owner);
  return std::nullopt;
}

void FieldInfo::read_default(const void* owner) {
  if (!required) fallback = get(owner);
}

std::string OneOf::describe() const {
  std::vector<std::string_view> known;
  for (const std::string_view key : keys)
    if (!key.empty()) known.push_back(key);
  return form::word(known).description;
}

std::optional<Diagnostic> OneOf::check_given(std::span<const std::string_view> given) const {
  if (given.size() == 1) return std::nullopt;
  const std::string words = describe();
  if (given.empty()) return Diagnostic{{}, "missing key; give " + words + "."};
  return Diagnostic{{},
                    std::string{given[1]} + " excludes " + std::string{given[0]} + "; give only one of " + words + "."};
}

namespace detail {

const FieldInfo* aim_of(const Kind& kind) {
  for (const FieldInfo& field : kind.fields())
    if (field.aim) return &field;
  return nullptr;
}

std::vector<std::string_view> changed_fields(std::span<const FieldInfo> fields, const void* before, const void* after) {
  std::vector<std::string_view> changed;
  for (const FieldInfo& field : fields) {
    if (field.equal && field.equal(before, after)) continue;
    const auto old = field.get(before), now = field.get(after);  // two NaN have one text
    if (old.has_value() != now.has_value() || (old && as_text(*old) != as_text(*now))) changed.push_back(field.name);
  }
  return changed;
}

References objects_named(std::span<const FieldInfo> fields, const void* owner) {
  References objects;
  for (const FieldInfo& field : fields) field.add_objects(owner, objects);
  return objects;
}

Diagnostic expected(const Value& found, std::string_view wanted) {
  std::string what = found.as<bool>() ? as_text(found) : std::string{found.describe_kind()};
  if (!found.as<Value::List>() && !found.as<Value::Table>() && !found.as<bool>()) what += " (" + as_text(found) + ")";
  return {found.place, "found " + what + "; give " + std::string{wanted} + "."};
}

std::optional<Diagnostic> read(const Value& from, const Unit&, bool& to) {
  const auto* yes = from.as<bool>();
  if (!yes) return detail::expected(from, "true or false");
  to = *yes;
  return std::nullopt;
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, double& to) {
  return read_number(from, unit, false, to);
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, std::int64_t& to) {
  const auto* whole = from.as<std::int64_t>();
  if (!whole) return expected(from, "a whole number");
  double ignored = 0.0;
  if (auto diagnostic = read_number(from, unit, false, ignored)) return diagnostic;
  to = *whole;
  return std::nullopt;
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, Angle& to) {
  double value = 0.0;
  auto diagnostic = read_number(from, unit, false, value);
  if (!diagnostic) to = degrees(value);
  return diagnostic;
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, Time& to) {
  double value = 0.0;
  auto diagnostic = read_number(from, unit, false, value);
  if (!diagnostic) to = seconds(value);
  return diagnostic;
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, Vec3& to) {
  Vec3 value;
  if (const auto* name = from.as<std::string>(); name && unit.is_direction) {
    const auto axis = axis_called(*name);
    if (!axis) return detail::expected(from, "\"x\", \"y\", \"z\", \"-x\", \"-y\", \"-z\", or a vector [x, y, z]");
    value = *axis;
  } else if (auto diagnostic = read_three(from, unit, false, value)) {
    return diagnostic;
  }
  if (unit.is_direction && value.isZero(0.0))
    return Diagnostic{from.place, "the vector has length 0; give a direction, such as [0, 1, 0]."};
  to = value;
  return std::nullopt;
}

std::optional<Diagnostic> read_unbounded(const Value& from, const Unit& unit, Vec3& to) {
  return read_three(from, unit, true, to);
}

std::optional<std::size_t> read_name(const Value& from, const std::vector<std::string_view>& names,
                                     std::optional<Diagnostic>& diagnostic) {
  const auto* name = from.as<std::string>();
  if (!name) {
    diagnostic = expected(from, form::word(names).description);
    return std::nullopt;
  }
  const auto found = std::find(names.begin(), names.end(), *name);
  if (found == names.end()) {
    diagnostic = Diagnostic{from.place, "unknown value " + in_quotes(*name) + suggestion(*name, names)};
    return std::nullopt;
  }
  return static_cast<std::size_t>(found - names.begin());
}

std::optional<Value> write_list(Value::List list) { return Value{std::move(list)}; }
std::optional<Value> write_name(std::string_view name) { return Value{std::string{name}}; }
void add_to(Value::List& list, std::optional<Value> item) { list.push_back(item ? *std::move(item) : Value{}); }

Diagnostic no_such_choice(std::string_view name, std::int64_t number, const std::vector<std::string_view>& allowed) {
  const std::string found = name.empty() ? "the number " + std::to_string(number) : in_quotes(name);
  return {{}, found + " is not allowed here" + suggestion("", allowed)};
}

Value three(const Vec3& v) { return Value{Value::List{Value{v.x()}, Value{v.y()}, Value{v.z()}}}; }

std::optional<Diagnostic> read(const Value& from, const Unit&, std::string& to) {
  const auto* text = from.as<std::string>();
  if (!text) return expected(from, "a string in quotes");
  to = *text;
  return std::nullopt;
}
std::optional<Value> write(const std::string& from, const Unit&) { return Value{from}; }
Form form_of(const std::string*, const Unit&) { return form::text("a string in quotes"); }

std::optional<Value> write(bool from, const Unit&) { return Value{from}; }
std::optional<Value> write(double from, const Unit&) { return Value{from}; }
std::optional<Value> write(std::int64_t from, const Unit&) { return Value{from}; }
std::optional<Value> write(Angle from, const Unit&) { return Value{from.in_degrees()}; }
std::optional<Value> write(Time from, const Unit&) { return Value{in_seconds(from)}; }

std::optional<Value> write(const Vec3& from, const Unit& unit) {
  if (unit.is_direction)
    for (const char* name : {"x", "y", "z", "-x", "-y", "-z"})
      if (from == *axis_called(name)) return Value{std::string{name}};
  return three(from);
}

Form form_of(const bool*, const Unit&) { return form::boolean(); }
Form form_of(const double*, const Unit& unit) { return form::number(unit); }
Form form_of(const std::int64_t*, const Unit&) { return form::whole(); }
Form form_of(const Angle*, const Unit& unit) { return form::number(unit); }
Form form_of(const Time*, const Unit& unit) { return form::number(unit); }
Form form_of(const Vec3*, const Unit& unit) {
  if (!unit.is_direction) return form::three(unit);
  return form::any_of({form::word({"x", "y", "z", "-x", "-y", "-z"}), form::three(unit)},
                      "an axis (\"x\", \"-y\", ...) or a vector [x, y, z]");
}

}  // namespace detail

std::optional<Diagnostic> read(const Value& from, const Unit& unit, Box& to) {
  const auto* corners = from.as<Value::List>();
  if (!corners || corners->size() != 2) return detail::expected(from, "two corners, [[x, y, z], [x, y, z]]");
  Box box;
  if (auto diagnostic = detail::read_unbounded((*corners)[0], unit, box.min)) return diagnostic;
  if (auto diagnostic = detail::read_unbounded((*corners)[1], unit, box.max)) return diagnostic;
  constexpr double infinity = std::numeric_limits<double>::infinity();
  for (int axis = 0; axis < 3; ++axis) {
    if (box.min[axis] == infinity) box.min[axis] = -infinity;  // `inf` means "no limit" on either side
    if (box.max[axis] == -infinity) box.max[axis] = infinity;
  }
  to = box;
  return std::nullopt;
}

std::optional<Value> write(const Box& from, const Unit&) {
  if (!from.min.array().isFinite().any() && !from.max.array().isFinite().any()) return std::nullopt;
  return Value{Value::List{detail::three(from.min), detail::three(from.max)}};
}

Form form_of(const Box*, const Unit&) {
  Form corner =
      form::list(form::number({"", -std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity()}),
                 3, 3, "three numbers, [x, y, z]");
  return form::list(std::move(corner), 2, 2, "two corners, [[x, y, z], [x, y, z]]");
}

}  // namespace hushed
