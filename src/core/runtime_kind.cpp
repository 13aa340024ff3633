// SPDX-License-Identifier: MIT
#include <hushed/runtime_kind.hpp>

#include <algorithm>
#include <cmath>
#include <type_traits>

#include <hushed/name.hpp>
#include <hushed/own.hpp>

namespace hushed {

namespace {

using Type = RuntimeField::Type;

std::vector<Object> objects_in(const RuntimeValues& values) {
  std::vector<Object> objects;
  for (const Target& target : values.objects)
    if (target.object.generation != 0) objects.push_back(target.object);
  return objects;
}

/// A behaviour of such a kind, as a function of time.
struct RuntimeFunction {
  RuntimeValues values;

  std::vector<Object> dependencies() const { return objects_in(values); }

  Pose apply(const Pose& in, const Moment& now) const {
    Pose pose = in;
    values.kind->apply(values, {}, pose, now);
    return pose;
  }
};

/// A behaviour that remembers numbers.
struct RuntimeMemory {
  RuntimeValues values;

  std::vector<Object> dependencies() const { return objects_in(values); }

  struct State {
    std::vector<double> numbers;
    void archive(Archive& archive) {
      for (double& number : numbers) archive(number);
    }
  };

  State empty() const { return {std::vector<double>(values.kind->description().memory)}; }
  void begin(State& state, const Pose& in, const Moment& now) const {
    std::fill(state.numbers.begin(), state.numbers.end(), 0.0);
    values.kind->begin(values, state.numbers, in, now);
  }
  Pose apply(State& state, const Pose& in, const Moment& now) const {
    Pose pose = in;
    values.kind->apply(values, state.numbers, pose, now);
    return pose;
  }
};

// Fields are read through a pointer to a behaviour of either type, which is one to its values too.
static_assert(std::is_standard_layout_v<RuntimeFunction> && std::is_standard_layout_v<RuntimeMemory>);

RuntimeValues& values_at(void* owner) { return *static_cast<RuntimeValues*>(owner); }
const RuntimeValues& values_at(const void* owner) { return *static_cast<const RuntimeValues*>(owner); }

Vec3 three(const std::vector<double>& numbers, std::size_t at) {
  return {numbers[at], numbers[at + 1], numbers[at + 2]};
}

std::size_t numbers_of(Type type) { return type == Type::object ? 0U : type == Type::vector ? 3U : 1U; }

[[noreturn]] void refuse(const std::string& kind, const RuntimeField& field, std::string_view text) {
  throw BadValue{std::string{kind}.append(": field ").append(in_quotes(field.name)).append(text)};
}

void check(const std::string& kind, const RuntimeField& field) {
  if (field.type == Type::object) return;
  if (!(field.low <= field.high) || !std::isfinite(field.low) || !std::isfinite(field.high))
    refuse(kind, field, " has a range whose ends are not finite or in the wrong order; give the lower end first.");
  if (field.slider && !(field.slider->low < field.slider->high))
    refuse(kind, field, " has a slider whose ends are in the wrong order; give the lower end first.");
  const bool is_word = field.type == Type::word, is_switch = field.type == Type::boolean;
  if (is_word && field.words.empty()) refuse(kind, field, " is one of several words; give them.");
  const double low = is_word || is_switch ? 0.0 : field.low, high = is_word
                                                                        ? static_cast<double>(field.words.size() - 1)
                                                                    : is_switch ? 1.0
                                                                                : field.high;
  for (std::size_t i = 0; i < numbers_of(field.type); ++i) {
    const double number = field.fallback[i];
    if (!(number >= low && number <= high) || ((is_word || is_switch) && number != std::floor(number)))
      refuse(kind, field, " has a default outside its range; give another.");
  }
}

}  // namespace

RuntimeKind::RuntimeKind(Description description) : description_{std::move(description)} {
  traits_ = {.has_memory = description_.memory > 0,
             .holds_when_stopped = description_.memory > 0,
             .thread_safe = description_.thread_safe};
  defaults_.kind = this;
  for (const RuntimeField& field : description_.fields) {
    hushed::check(description_.name, field);
    const bool is_object = field.type == Type::object;
    slots_.push_back({&field,
                      is_object ? defaults_.objects.size() : defaults_.numbers.size(),
                      {field.unit, field.low, field.high},
                      {field.words.begin(), field.words.end()}});
    if (is_object) defaults_.objects.emplace_back();
    for (std::size_t i = 0; i < numbers_of(field.type); ++i) defaults_.numbers.push_back(field.fallback[i]);
  }
  for (const Slot& slot : slots_) fields_.push_back(info_of(slot));
}

RuntimeKind::~RuntimeKind() = default;

void RuntimeKind::begin(const RuntimeValues&, std::span<double>, const Pose&, const Moment&) const {}

// --- fields ----------------------------------------------------------------------------------------------------------

FieldInfo RuntimeKind::info_of(const Slot& slot) const {
  FieldInfo info;
  info.name = slot.field->name;
  info.help = slot.field->help;
  info.unit = slot.unit;
  info.slider = slot.field->slider;
  info.required = slot.field->type == Type::object;
  switch (slot.field->type) {
    case Type::number: info.form = form::number(slot.unit); break;
    case Type::boolean: info.form = form::boolean(); break;
    case Type::vector: info.form = form::three(slot.unit); break;
    case Type::word: info.form = form::word(slot.words); break;
    case Type::object: info.form = form_of(static_cast<const Target*>(nullptr), slot.unit); break;
  }
  info.get = {&RuntimeKind::get, &slot};
  info.set = {&RuntimeKind::set, &slot};
  info.reset = {&RuntimeKind::reset, &slot};
  info.check = {&RuntimeKind::check_field, &slot};
  info.resolve = {&RuntimeKind::resolve_field, &slot};
  info.add_objects = {&RuntimeKind::add_objects_of, &slot};
  if (slot.field->type == Type::object) info.aim = {&RuntimeKind::aim_field, &slot};
  info.read_default(&defaults_);
  return info;
}

std::optional<Value> RuntimeKind::get(const void* of, const void* owner) {
  const Slot& slot = *static_cast<const Slot*>(of);
  const RuntimeValues& values = values_at(owner);
  switch (slot.field->type) {
    case Type::number: return detail::write_any(values.numbers[slot.at], slot.unit);
    case Type::boolean: return Value{values.numbers[slot.at] != 0.0};
    case Type::vector: return detail::write_any(three(values.numbers, slot.at), slot.unit);
    case Type::word: return Value{std::string{slot.words[static_cast<std::size_t>(values.numbers[slot.at])]}};
    case Type::object: return detail::write_any(values.objects[slot.at], slot.unit);
  }
  return std::nullopt;
}

std::optional<Diagnostic> RuntimeKind::set(const void* of, void* owner, const Value& value) {
  const Slot& slot = *static_cast<const Slot*>(of);
  RuntimeValues& values = values_at(owner);
  std::optional<Diagnostic> diagnostic;
  switch (slot.field->type) {
    case Type::number: return detail::read_any(value, slot.unit, values.numbers[slot.at]);
    case Type::boolean: {
      bool yes = false;
      diagnostic = detail::read_any(value, slot.unit, yes);
      if (!diagnostic) values.numbers[slot.at] = yes ? 1.0 : 0.0;
      return diagnostic;
    }
    case Type::vector: {
      Vec3 vector = Vec3::Zero();
      diagnostic = detail::read_any(value, slot.unit, vector);
      for (int i = 0; !diagnostic && i < 3; ++i) values.numbers[slot.at + static_cast<std::size_t>(i)] = vector[i];
      return diagnostic;
    }
    case Type::word:
      if (const auto found = detail::read_name(value, slot.words, diagnostic))
        values.numbers[slot.at] = static_cast<double>(*found);
      return diagnostic;
    case Type::object: return detail::read_any(value, slot.unit, values.objects[slot.at]);
  }
  return std::nullopt;
}

void RuntimeKind::reset(const void* of, void* owner) {
  const Slot& slot = *static_cast<const Slot*>(of);
  RuntimeValues& values = values_at(owner);
  if (slot.field->type == Type::object) values.objects[slot.at] = {};
  for (std::size_t i = 0; i < numbers_of(slot.field->type); ++i) values.numbers[slot.at + i] = slot.field->fallback[i];
}

std::optional<Diagnostic> RuntimeKind::check_field(const void* of, const void* owner) {
  const Slot& slot = *static_cast<const Slot*>(of);
  const RuntimeValues& values = values_at(owner);
  if (slot.field->type == Type::number) return detail::check_any(values.numbers[slot.at], slot.unit);
  if (slot.field->type == Type::vector) return detail::check_any(three(values.numbers, slot.at), slot.unit);
  return std::nullopt;
}

std::optional<Diagnostic> RuntimeKind::resolve_field(const void* of, void* owner, const detail::Names& names) {
  const Slot& slot = *static_cast<const Slot*>(of);
  if (slot.field->type != Type::object) return std::nullopt;
  return detail::resolve_any(values_at(owner).objects[slot.at], names);
}

void RuntimeKind::aim_field(const void* of, void* owner, Object at) {
  values_at(owner).objects[static_cast<const Slot*>(of)->at] = Target{at};
}

void RuntimeKind::add_objects_of(const void* of, const void* owner, detail::References& to) {
  const Slot& slot = *static_cast<const Slot*>(of);
  if (slot.field->type == Type::object) detail::add_objects_of_any(values_at(owner).objects[slot.at], to);
}

// --- values and state ------------------------------------------------------------------------------------------------

detail::References RuntimeKind::dependencies(const void* values) const {
  return detail::objects_named(fields_, values);
}

std::optional<Diagnostic> RuntimeKind::check(const void* values, const Pose*) const {
  for (const Target& target : values_at(values).objects)
    if (!target.is_given()) return Diagnostic{{}, "an object that it needs is not given; name one."};
  return std::nullopt;
}

std::unique_ptr<detail::BehaviourStore> RuntimeKind::store() const {
  if (traits_.has_memory) return std::make_unique<detail::OwnStore<RuntimeMemory>>();
  return std::make_unique<detail::OwnStore<RuntimeFunction>>();
}

void RuntimeKind::take_memory(detail::BehaviourStore& to, std::uint32_t row, const RuntimeKind& earlier,
                              detail::BehaviourStore& from, std::uint32_t from_row) const {
  using Store = detail::OwnStore<RuntimeMemory>;
  auto& now = static_cast<Store&>(to).entry(row).memory;
  const auto& before = static_cast<Store&>(from).entry(from_row).memory;
  for (std::size_t i = 0; i < description_.memory_names.size(); ++i) {
    const auto& names = earlier.description_.memory_names;
    const auto found = std::find(names.begin(), names.end(), description_.memory_names[i]);
    if (found == names.end()) continue;
    now.state.numbers[i] = before.state.numbers[static_cast<std::size_t>(found - names.begin())];
  }
  now.at = Time::min();  // what it gave last was computed by the earlier version
}

std::shared_ptr<void> RuntimeKind::make(const void* values) const {
  const RuntimeValues& from = values ? values_at(values) : defaults_;
  if (traits_.has_memory) return std::make_shared<RuntimeMemory>(RuntimeMemory{from});
  return std::make_shared<RuntimeFunction>(RuntimeFunction{from});
}

}  // namespace hushed
