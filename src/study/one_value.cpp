// SPDX-License-Identifier: MIT
#include <hushed/one_value.hpp>

#include <algorithm>
#include <charconv>

#include <hushed/error.hpp>

namespace hushed {

namespace {

/// The parts of a path.
std::vector<std::string> parts_of(const std::string& path) {
  std::vector<std::string> parts(1);
  for (const char c : path) {
    if (c == '.')
      parts.emplace_back();
    else
      parts.back() += c;
  }
  return parts;
}

/// A copy of a value in which one inside is another; nothing where the parts name none. `inside` gets the old one.
std::optional<Value> replaced(const Value& whole, std::span<const std::string> parts, const Value* by, Value& inside) {
  if (parts.empty()) {
    inside = whole;
    return by ? *by : whole;
  }
  const std::string& part = parts.front();
  if (const auto* table = whole.as<Value::Table>()) {
    Value::Table changed = *table;
    for (Value::Entry& entry : changed) {
      if (entry.key != part) continue;
      std::optional<Value> value = replaced(entry.value, parts.subspan(1), by, inside);
      if (!value) return std::nullopt;
      entry.value = std::move(*value);
      return Value{std::move(changed)};
    }
    return std::nullopt;
  }
  const auto* list = whole.as<Value::List>();
  if (!list) return std::nullopt;
  std::size_t index = list->size();
  if (part.size() == 1 && part[0] >= 'x' && part[0] <= 'z' && list->size() == 3)
    index = static_cast<std::size_t>(part[0] - 'x');
  else if (std::from_chars(part.data(), part.data() + part.size(), index).ptr != part.data() + part.size())
    return std::nullopt;
  if (index >= list->size()) return std::nullopt;
  Value::List changed = *list;
  std::optional<Value> value = replaced(changed[index], parts.subspan(1), by, inside);
  if (!value) return std::nullopt;
  changed[index] = std::move(*value);
  return Value{std::move(changed)};
}

}  // namespace

OneValue::OneValue(std::string path, const Scene& scene) : path_{std::move(path)}, whole_{path_} {
  try {
    static_cast<void>(scene.get(whole_));
    return;
  } catch (const BadValue&) {  // perhaps it is inside a value
    for (std::size_t dot = path_.rfind('.'); dot != path_.npos && dot > 0; dot = path_.rfind('.', dot - 1)) {
      whole_ = path_.substr(0, dot);
      inside_ = parts_of(path_.substr(dot + 1));
      try {
        if (get(scene)) return;
      } catch (const BadValue&) {  // perhaps further outside
      }
    }
    throw;
  }
}

Value OneValue::whole_with(const Scene& scene, const Value& value) const {
  if (inside_.empty()) return value;
  if (!value.number()) throw BadValue{path_ + ": " + as_text(value) + " is not a number."};
  Value before;
  const std::optional<Value> whole = scene.get(whole_);
  const std::optional<Value> changed = whole ? replaced(*whole, inside_, &value, before) : std::nullopt;
  if (!changed) throw BadValue{path_ + ": there is no such number in it now."};
  return *changed;
}

void OneValue::set(Scene& scene, const Value& value) const { scene.set(whole_, whole_with(scene, value)); }

std::optional<Value> OneValue::get(const Scene& scene) const {
  const std::optional<Value> whole = scene.get(whole_);
  if (inside_.empty() || !whole) return inside_.empty() ? whole : std::nullopt;
  Value inside;
  return replaced(*whole, inside_, nullptr, inside) ? std::optional{inside} : std::nullopt;
}

double OneValue::number(const Scene& scene) const {
  const std::optional<Value> value = get(scene);
  if (const auto number = value ? value->number() : std::nullopt) return *number;
  throw BadValue{path_ + ": it is " + (value ? as_text(*value) : "left out") +
                 "; give the path of a number, or a number inside it, such as boat.travel.velocity.x."};
}

}  // namespace hushed
