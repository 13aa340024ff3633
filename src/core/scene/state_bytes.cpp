// SPDX-License-Identifier: MIT
#include "scene/state_bytes.hpp"

#include <algorithm>
#include <bit>
#include <cstring>
#include <string>

#include "archived_time.hpp"
#include "scene/checks.hpp"

namespace hushed::detail {

namespace {

// The bytes: a magic number and the version of the format, the hash of the content, a checksum of what follows, and an
// `Archive`.
constexpr char magic[8] = {'h', 'u', 's', 'h', 'e', 'd', 'S', '\3'};
constexpr std::size_t head = sizeof magic + 2 * sizeof(std::uint64_t);

/// A hash in the manner of FNV-1a, eight bytes at a time.
class Hash {
 public:
  void add(std::uint64_t number) { hash_ = std::rotl((hash_ ^ number) * 0x100000001b3U, 23); }
  void add(std::span<const std::byte> bytes) {
    for (; bytes.size() >= 8; bytes = bytes.subspan(8)) {
      std::uint64_t number = 0;
      std::memcpy(&number, bytes.data(), 8);
      add(number);
    }
    for (const std::byte each : bytes) add(std::to_integer<std::uint64_t>(each) + 1);
  }
  void add(std::string_view text) { add(std::as_bytes(std::span{text.data(), text.size()})); }
  std::uint64_t result() const { return hash_; }

 private:
  std::uint64_t hash_ = 0xcbf29ce484222325U;
};

/// Fills the head of bytes whose content is complete.
void seal(std::span<std::byte> all, std::uint64_t hash) {
  Hash checksum;
  checksum.add(all.subspan(head));
  std::memcpy(all.data(), magic, sizeof magic);
  const std::uint64_t numbers[2] = {hash, checksum.result()};
  std::memcpy(all.data() + sizeof magic, numbers, sizeof numbers);
}

// --- parts of the state ----------------------------------------------------------------------------------------------

bool are_equal(const Run& a, const Run& b) {
  return a.phase == b.phase && a.holding == b.holding && a.failed == b.failed && a.failed_at == b.failed_at &&
         a.starts_at == b.starts_at && a.waits_from == b.waits_from && a.clock == b.clock &&
         a.once_touched == b.once_touched && !a.uses_transition && !b.uses_transition;
}

/// `last`: the run before, which this one often equals; nullptr where it is the first.
void archive_run(Archive& archive, Run& run, const Run* last) {
  bool is_as_last = !archive.is_reading() && last && are_equal(run, *last);
  archive(is_as_last);
  if (is_as_last && !last) refuse_damaged_bytes();
  if (is_as_last && archive.is_reading()) run.go_back_to(*last);
  if (is_as_last) return;
  archive(run.phase, run.holding, run.failed, run.failed_at, run.starts_at);
  archive_times(archive, run.waits_from, run.clock);
  archive(run.once_touched);
  if (run.phase > Run::Phase::halted) refuse_damaged_bytes();
  bool has_transition = run.uses_transition;
  archive(has_transition);
  if (!has_transition) {
    // A behaviour that holds a pose needs a transition, even if the pose is the default one.
    const bool may_hold = run.holding || run.phase == Run::Phase::halted;
    if (archive.is_reading() && (run.transition || may_hold)) run.transition.make() = {};
    run.uses_transition = false;
    return;
  }
  Transition& transition = run.transition.make();
  archive(transition.level_from, transition.level_to);
  archive_times(archive, transition.level_since, transition.level_length);
  archive(transition.position, transition.rotation, transition.scale);
  archive_times(archive, transition.bridge_since, transition.bridge_length);
  archive(transition.held);
  run.transition_has_changed();
}

/// The fields of `values` that differ from `given`.
void archive_fields(Archive& archive, std::span<const FieldInfo> fields, void* values, const void* given,
                    const Names* names) {
  std::vector<std::string_view> changed;
  if (!archive.is_reading()) changed = changed_fields(fields, given, values);
  const std::size_t count = archive.count(changed.size());
  for (std::size_t i = 0; i < count; ++i) {
    std::string name{i < changed.size() ? changed[i] : std::string_view{}};
    archive(name);
    const auto field =
        std::find_if(fields.begin(), fields.end(), [&](const FieldInfo& each) { return each.name == name; });
    if (field == fields.end()) refuse_damaged_bytes();
    std::optional<Value> value = field->get(values);
    archive(value);
    if (!archive.is_reading()) continue;
    if (const auto diagnostic = field->put(values, value)) throw BadValue{name + ": " + diagnostic->text};
    if (const auto diagnostic = names ? field->resolve(values, *names) : std::nullopt)
      throw BadValue{name + ": " + diagnostic->text};
  }
}

/// Words that name fields of a kind.
void archive_words(Archive& archive, const Kind& kind, std::vector<std::string_view>& words) {
  const std::size_t count = archive.count(words.size());
  if (archive.is_reading()) words.assign(count, {});
  for (std::string_view& word : words) {
    std::string text{word};
    archive(text);
    if (!archive.is_reading()) continue;
    const FieldFound found = find_field(kind, text);
    if (!found.field) refuse_damaged_bytes();
    word = found.field->name;
  }
}

class StateArchive {
 public:
  StateArchive(Archive& archive, SnapshotData& data, SceneState& state)
      : archive_{archive}, data_{data}, state_{state} {}

  void run(const Registry* registry) {
    archive_(state_.time, state_.rounding, state_.last_tick);
    if (state_.time < Time{0} || state_.time > latest || state_.last_tick > state_.time) refuse_damaged_bytes();
    archive_clocks();
    archive_values(registry);
    archive_owns();
    archive_behaviours();
    archive_presences();
    archive_presets();
    const auto objects = static_cast<Index>(data_.registry->objects.size());
    state_.ticks.archive(archive_, objects);
    data_.inputs.archive(archive_);
    if (archive_.is_reading()) state_.input = data_.inputs.state();
    data_.feeds.archive(archive_, state_.time, objects);
    archive_(state_.shown_jumps);
    archive_rules();
    state_.events.archive(archive_);
  }

 private:
  BehaviourStore& store(const BehaviourRecord& behaviour) { return *state_.stores[behaviour.store]; }
  bool is_reading() const { return archive_.is_reading(); }

  void archive_clocks() {
    for (ObjectClock& clock : state_.clocks) {
      archive_(clock.pace);
      archive_times(archive_, clock.since, clock.own, clock.before, clock.own_before);
      if (!(clock.pace >= 0.0)) refuse_damaged_bytes();
    }
  }

  /// Values that differ from those that were given when the scene was built.
  void archive_values(const Registry* registry) {
    if (is_reading()) take_given_values();
    Index next = 0;
    const std::size_t count = archive_.count(state_.changed.size());
    if (is_reading()) state_.changed.assign(count, {});
    for (SceneState::Changed& changed : state_.changed) {
      archive_(changed.behaviour);
      const Index index = changed.behaviour;
      Given& given = changed.given;
      const BehaviourRecord& behaviour = record(index);
      const auto values = behaviour.kind->make(store(behaviour).values(behaviour.row));
      if (is_reading()) {
        if (index < next) refuse_damaged_bytes();
        next = index + 1;
        given = {behaviour.kind->make(values.get()), behaviour.given ? behaviour.given->common : behaviour.common};
        changed.present = given.common;
      }
      archive_(given.values_changed);
      if (given.values_changed && behaviour.kind->fields().empty())
        throw BadValue{std::string{behaviour.kind->name()} +
                       ": its values were changed, and it has no table of fields by which to write them; give it "
                       "`static constexpr auto fields`, or keep snapshots in memory."};
      if (is_reading()) {
        const NamesInScene names{*registry, behaviour.object, behaviour.common.reads};
        archive_fields(archive_, behaviour.kind->fields(), values.get(), values.get(), &names);
        store(behaviour).set_values(behaviour.row, values.get());
      } else {
        archive_fields(archive_, behaviour.kind->fields(), values.get(), given.values.get(), nullptr);
      }
      archive_fields(archive_, common_fields(), &changed.present, &given.common, nullptr);
    }
  }

  /// The fields whose values are not the preset's.
  void archive_owns() {
    const std::size_t count = archive_.count(state_.owns.size());
    if (is_reading()) state_.owns.assign(count, {});
    Index next = 0;
    for (SceneState::Own& own : state_.owns) {
      archive_(own.behaviour);
      const BehaviourRecord& behaviour = record(own.behaviour);
      if (own.behaviour < next) refuse_damaged_bytes();
      next = own.behaviour + 1;
      archive_words(archive_, *behaviour.kind, own.fields);
    }
  }

  /// The scene that reads may have changed its values too.
  void take_given_values() {
    for (const SceneState::Changed& changed : state_.changed)
      store(record(changed.behaviour)).set_values(record(changed.behaviour).row, changed.given.values.get());
  }

  void archive_behaviours() {
    const Run* last = nullptr;
    for (Index i = 0; i < data_.registry->behaviours.size(); ++i) {
      const BehaviourRecord& behaviour = data_.registry->behaviours[i];
      if (!behaviour.in_use) continue;
      archive_run(archive_, state_.runs[i], last);
      last = &state_.runs[i];
      if (state_.runs[i].phase != Run::Phase::idle) store(behaviour).archive(behaviour.row, archive_);
    }
  }

  void archive_presences() {
    for (Index i = 0; i < state_.presences.size(); ++i) {
      if (!data_.registry->presences[i].in_use) continue;
      Presence& each = state_.presences[i];
      bool is_as_added = !each.ended && !each.hidden && !each.under_hidden && each.gathered == 0 && each.placed == none;
      archive_(is_as_added);
      if (is_reading()) each = {.generation = each.generation, .in_use = each.in_use};
      if (is_as_added) continue;
      archive_(each.ended, each.hidden, each.under_hidden, each.gathered, each.placed);
      if (each.placed != none && each.placed >= data_.registry->objects[i].poses.size()) refuse_damaged_bytes();
    }
  }

  void archive_presets() {
    for (PresetRecord& preset : state_.presets)
      for (PresetBehaviour& behaviour : preset.behaviours) {
        const auto untouched = behaviour.kind->make(nullptr);
        if (!untouched) continue;
        const auto values = behaviour.kind->make(is_reading() ? untouched.get() : behaviour.values.get());
        archive_fields(archive_, behaviour.kind->fields(), values.get(), untouched.get(), nullptr);
        if (is_reading()) behaviour.values = values;
        const Common plain{.name = behaviour.common.name};
        if (is_reading()) behaviour.common = plain;
        archive_fields(archive_, common_fields(), &behaviour.common, &plain, nullptr);
      }
  }

  void archive_rules() {
    RuleMemory& rules = state_.rules;
    for (RuleMemory::State& rule : rules.states) {
      archive_(rule.holds, rule.fired);
      archive_times(archive_, rule.since);
      archive_(rule.report.ticks, rule.report.held, rule.report.fired, rule.report.holding_since);
      for (RuleMemory::ResolvedCondition& condition : rule.samples)
        for (auto* const sample : {&condition.last, &condition.before}) {
          bool is_known = sample->has_value();
          archive_(is_known);
          if (is_reading()) *sample = is_known ? std::optional<Watch::Sample>{Watch::Sample{}} : std::nullopt;
          if (!is_known) continue;
          archive_((*sample)->pose);
          archive_times(archive_, (*sample)->time);
        }
    }
    const auto list = [&](auto& items, auto&& each) {
      const std::size_t count = archive_.count(items.size());
      if (is_reading()) items.assign(count, {});
      for (auto& item : items) each(item);
    };
    list(rules.received, [&](auto& received) { archive_(received.event, received.subject, received.link); });
    list(rules.links, [&](auto& link) { archive_(link.rule, link.link); });
    list(rules.firings, [&](auto& firing) { archive_(firing.rule, firing.link); });
    archive_(rules.evaluated_at);
    if (!is_reading()) return;
    const auto check = [](Index link, std::size_t size) {
      if (link != none && link >= size) refuse_damaged_bytes();
    };
    for (const auto& received : rules.received) check(received.link, rules.links.size());
    for (const auto& firing : rules.firings) {
      if (firing.rule >= rules.states.size()) refuse_damaged_bytes();
      check(firing.link, rules.links.size());
    }
    for (const auto& link : rules.links) {
      check(link.rule, rules.states.size());
      check(link.link, rules.links.size());
    }
    check_that_chains_end(rules.links);
  }

  static void check_that_chains_end(const std::vector<RuleMemory::Link>& links) {
    std::vector<bool> ends(links.size(), false);
    for (Index first = 0; first < links.size(); ++first) {
      std::size_t passed = 0;
      for (Index link = first; link != none && !ends[link]; link = links[link].link)
        if (++passed > links.size()) refuse_damaged_bytes();
      for (Index link = first; link != none && !ends[link]; link = links[link].link) ends[link] = true;
    }
  }

  const BehaviourRecord& record(Index index) const {
    if (index >= data_.registry->behaviours.size() || !data_.registry->behaviours[index].in_use) refuse_damaged_bytes();
    return data_.registry->behaviours[index];
  }

  Archive& archive_;
  SnapshotData& data_;
  SceneState& state_;
};

}  // namespace

std::uint64_t content_hash(const RegistryContent& registry, double tick_rate, const Rules& rules) {
  Hash hash;
  hash.add(std::bit_cast<std::uint64_t>(tick_rate));
  hash.add(rules.size());
  for (Index i = 0; i < rules.size(); ++i) hash.add(rules.rule(i).name);
  hash.add(registry.objects.size());
  for (Index i = 0; i < registry.objects.size(); ++i) {
    const ObjectRecord& object = registry.objects[i];
    const Presence& presence = registry.presences[i];
    hash.add((std::uint64_t{presence.generation} << 32U) + (presence.in_use ? object.parent + 1 : 0));
    hash.add(object.clock);
    hash.add(object.name);
  }
  for (const BehaviourRecord& behaviour : registry.behaviours) {
    hash.add((std::uint64_t{behaviour.generation} << 32U) + (behaviour.in_use ? behaviour.object + 1 : 0));
    if (behaviour.kind) hash.add(behaviour.kind->name());
    hash.add(behaviour.common.name);
  }
  return hash.result();
}

std::vector<std::byte> sealed(std::uint64_t hash, std::span<const std::byte> content) {
  std::vector<std::byte> all(head + content.size());
  std::copy(content.begin(), content.end(), all.begin() + head);
  seal(all, hash);
  return all;
}

std::vector<std::byte> to_bytes(const SnapshotData& snapshot) {
  Archive archive;
  SnapshotData data = snapshot;
  data.feeds.forget_before(snapshot.state->time);
  StateArchive{archive, data, const_cast<SceneState&>(*snapshot.state)}.run(nullptr);  // writing changes nothing
  std::vector<std::byte> all(head);
  archive.append_to(all);
  seal(all, snapshot.hash);
  return all;
}

void read_bytes(std::span<const std::byte> bytes, SnapshotData& to, SceneState& state, const Registry& registry,
                EventNames& names) {
  if (bytes.size() < head || std::memcmp(bytes.data(), magic, sizeof magic) != 0) refuse_damaged_bytes();
  std::uint64_t numbers[2];
  std::memcpy(numbers, bytes.data() + sizeof magic, sizeof numbers);
  Hash checksum;
  checksum.add(bytes.subspan(head));
  if (checksum.result() != numbers[1]) refuse_damaged_bytes();
  if (numbers[0] != to.hash)
    throw BadValue{
        "the bytes are of a scene with other objects, behaviours or rules; build this one by the same calls, "
        "or load the same file, before you read them."};
  Archive archive{bytes.subspan(head)};
  archive.scene = registry.handle_scene();
  archive.intern = [&names](std::string_view text) { return names.intern(text); };
  StateArchive{archive, to, state}.run(&registry);
  archive.end();
}

}  // namespace hushed::detail
