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

/// A behaviour of such a kind, as a function of time.
struct RuntimeFunction {
  RuntimeValues values;

  detail::References references() const { return values.kind->dependencies(&values); }

  Pose apply(const Pose& in, const Moment& now) const {
    Pose pose = in;
    values.kind->apply(values, {}, pose, now);
    return pose;
  }
};

/// A behaviour that remembers numbers.
struct RuntimeMemory {
  RuntimeValues values;

  detail::References references() const { return values.kind->dependencies(&values); }

  struct State {
    std::vector<double> numbers;
    void archive(Archive& archive) {
      for (double& number : numbers) archive(number);
    }
  };

  State empty() const { return {std::vector<double>(values.kind->description().memory)}; }
  void begin(State& state, const Pose& in, const Moment& now) const {
    values.kind->description().set_first(state.numbers);
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

bool names_objects(Type type) { return type == Type::object || type == Type::tagged; }
std::size_t numbers_of(Type type) { return names_objects(type) ? 0U : type == Type::vector ? 3U : 1U; }

[[noreturn]] void refuse(const std::string& kind, const RuntimeField& field, std::string_view text) {
  throw BadValue{std::string{kind}.append(": field ").append(in_quotes(field.name)).append(text)};
}

void check(const std::string& kind, const RuntimeField& field) {
  if (names_objects(field.type)) return;
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
  for (const RuntimeField& field : description_.fields)
    if (field.type == Type::tagged) traits_.may_name_tags = true;
  defaults_.kind = this;
  for (const RuntimeField& field : description_.fields) {
    hushed::check(description_.name, field);
    const std::size_t at = field.type == Type::object   ? defaults_.objects.size()
                           : field.type == Type::tagged ? defaults_.tagged.size()
                                                        : defaults_.numbers.size();
    slots_.push_back({&field, at, {field.unit, field.low, field.high}, {field.words.begin(), field.words.end()}});
    if (field.type == Type::object) defaults_.objects.emplace_back();
    if (field.type == Type::tagged) defaults_.tagged.emplace_back();
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
  info.required = names_objects(slot.field->type);
  switch (slot.field->type) {
    case Type::number: info.form = form::number(slot.unit); break;
    case Type::boolean: info.form = form::boolean(); break;
    case Type::vector: info.form = form::three(slot.unit); break;
    case Type::word: info.form = form::word(slot.words); break;
    case Type::object: info.form = form_of(static_cast<const Target*>(nullptr), slot.unit); break;
    case Type::tagged: info.form = form_of(static_cast<const Tagged*>(nullptr), slot.unit); break;
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
    case Type::tagged: return detail::write_any(values.tagged[slot.at], slot.unit);
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
    case Type::tagged: return detail::read_any(value, slot.unit, values.tagged[slot.at]);
  }
  return std::nullopt;
}

void RuntimeKind::reset(const void* of, void* owner) {
  const Slot& slot = *static_cast<const Slot*>(of);
  RuntimeValues& values = values_at(owner);
  if (slot.field->type == Type::object) values.objects[slot.at] = {};
  if (slot.field->type == Type::tagged) values.tagged[slot.at] = {};
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
  if (slot.field->type == Type::object) return detail::resolve_any(values_at(owner).objects[slot.at], names);
  if (slot.field->type == Type::tagged) return detail::resolve_any(values_at(owner).tagged[slot.at], names);
  return std::nullopt;
}

void RuntimeKind::aim_field(const void* of, void* owner, Object at) {
  values_at(owner).objects[static_cast<const Slot*>(of)->at] = Target{at};
}

void RuntimeKind::add_objects_of(const void* of, const void* owner, detail::References& to) {
  const Slot& slot = *static_cast<const Slot*>(of);
  if (slot.field->type == Type::object) detail::add_objects_of_any(values_at(owner).objects[slot.at], to);
  if (slot.field->type == Type::tagged) to.add(values_at(owner).tagged[slot.at].found);
}

// --- values and state ------------------------------------------------------------------------------------------------

detail::References RuntimeKind::dependencies(const void* values) const {
  return detail::objects_named(fields_, values);
}

std::optional<Diagnostic> RuntimeKind::check(const void* values, const Pose*) const {
  for (const Target& target : values_at(values).objects)
    if (!target.is_given()) return Diagnostic{{}, "an object that it needs is not given; name one."};
  for (const Tagged& each : values_at(values).tagged)
    if (each.tag.empty()) return Diagnostic{{}, "a tag that it needs is not given; name one."};
  return std::nullopt;
}

std::unique_ptr<detail::BehaviourStore> RuntimeKind::store() const {
  if (traits_.has_memory) return std::make_unique<detail::OwnStore<RuntimeMemory>>();
  return std::make_unique<detail::OwnStore<RuntimeFunction>>();
}

void RuntimeKind::Description::set_first(std::vector<double>& numbers) const {
  std::fill(numbers.begin(), numbers.end(), 0.0);
  std::copy_n(memory_first.begin(), std::min(memory_first.size(), numbers.size()), numbers.begin());
}

bool RuntimeKind::is_made_like(const RuntimeKind& other) const {
  return !made_from().empty() && made_from() == other.made_from() && description_.memory == other.description_.memory;
}

std::vector<double> RuntimeKind::memory_from(const RuntimeKind& earlier, const std::vector<double>& numbers) const {
  std::vector<double> taken(description_.memory);
  description_.set_first(taken);
  const auto& names = earlier.description_.memory_names;
  for (std::size_t i = 0; i < description_.memory_names.size(); ++i) {
    const auto found = std::find(names.begin(), names.end(), description_.memory_names[i]);
    if (found != names.end()) taken[i] = numbers[static_cast<std::size_t>(found - names.begin())];
  }
  return taken;
}

void RuntimeKind::take_memory(detail::BehaviourStore& to, std::uint32_t row, const RuntimeKind& earlier,
                              detail::BehaviourStore& from, std::uint32_t from_row) const {
  using Store = detail::OwnStore<RuntimeMemory>;
  if (is_made_like(earlier)) return to.take_state(row, from, from_row);
  auto& now = static_cast<Store&>(to).entry(row).memory;
  now.state.numbers = memory_from(earlier, static_cast<Store&>(from).entry(from_row).memory.state.numbers);
  now.at = Time::min();  // what it gave last was computed by the earlier version
}

std::string RuntimeKind::try_as_version(const void* values, const RuntimeKind& earlier, detail::BehaviourStore& from,
                                        std::uint32_t from_row, const Pose& in, const Moment& now) const {
  const detail::References readable = dependencies(values);
  Moment moment = now;
  moment.readable = &readable;
  std::vector<double> numbers(description_.memory);
  description_.set_first(numbers);
  if (earlier.traits_.has_memory) {
    const auto& before = static_cast<detail::OwnStore<RuntimeMemory>&>(from).entry(from_row);
    moment.seed = before.seed;
    numbers = memory_from(earlier, before.memory.state.numbers);
  } else {
    moment.seed = static_cast<detail::OwnStore<RuntimeFunction>&>(from).entry(from_row).seed;
  }
  Pose pose = in;
  const detail::UserCall call{now.query->scene};
  std::string thrown;
  return std::string{detail::call_user_code(thrown, [&]() -> std::string_view {
    apply(values_at(values), numbers, pose, moment);
    return detail::make_sound(pose) ? "" : "it returned a pose that is not finite";
  })};
}

std::shared_ptr<void> RuntimeKind::make(const void* values) const {
  const RuntimeValues& from = values ? values_at(values) : defaults_;
  if (traits_.has_memory) return std::make_shared<RuntimeMemory>(RuntimeMemory{from});
  return std::make_shared<RuntimeFunction>(RuntimeFunction{from});
}

}  // namespace hushed
