#pragma once

// Behaviours of your own: any copyable struct with
//
//     Pose apply(const Pose& in, const Moment& now) const;                      a function of time, or
//     Pose apply(State& memory, const Pose& in, const Moment& now) const;       with memory, `struct State`
//
// goes through `Scene::give` like a built-in one. It may also have
//
//     std::vector<Object> looks_at() const;            whose poses it reads: it is evaluated after them; those that
//                                                      a `Target` or a `Place` in its table names need not be here
//     State begin(const Pose& in, const Moment& now) const;        its memory when it starts; State{} otherwise
//     static constexpr bool bridges = false;           a change of its values shows at once, as a jump; without it, the
//                                                      difference fades away
//     static constexpr auto kind = "hover", summary = "...", fields = std::tuple{field(...), ...};
//
// A motion with memory is called with `now.step == 0` when it starts, then once a tick, and in between, for a frame,
// with a copy of its memory. After its values have changed at a tick it is asked again there, with `now.step == 0`.
//
// None of these may call the scene: other objects are read by `now.world(...)`. Where `apply` throws, gives a pose that
// is not finite, or calls the scene, what comes in goes out, and the event "failed" says why. At the next tick (of a
// function of time: at the next frame) it is asked again.

#include <concepts>
#include <exception>
#include <memory>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <vector>

#include <hushed/inside/kind.hpp>

namespace hushed {

template <class B>
concept FunctionOfTime = requires(const B& behaviour, const Pose& in, const Moment& now) {
  { behaviour.apply(in, now) } -> std::convertible_to<Pose>;
};

template <class B>
concept WithMemory = std::copyable<typename B::State> && std::default_initializable<typename B::State> &&
    requires(const B& behaviour, typename B::State& memory, const Pose& in, const Moment& now) {
  { behaviour.apply(memory, in, now) } -> std::convertible_to<Pose>;
};

template <class B>
concept OwnBehaviour = std::copyable<B> &&(FunctionOfTime<B> || WithMemory<B>);

namespace inside {

/// Makes a pose that came from outside fit to go on: its rotation is normalised. False where it is not
/// finite, or further out than `compose` reaches.
bool make_sound(Pose& pose);

/// The memory of one behaviour, what it gave when it was last advanced, and when that was.
template <class B>
struct Memory {};

template <WithMemory B>
struct Memory<B> {
  typename B::State state = {};
  typename B::State next = {};  ///< where it is being taken to
  Pose out = {};
  Time at = Time::min();
};

template <OwnBehaviour B>
class OwnRoster final : public Roster {
 public:
  struct Entry {
    B values;
    std::uint32_t behaviour;
    Object owner;
    References seen;
    Memory<B> memory;
  };

  std::uint32_t add(const void* values, const Owner& owner) override {
    Entry entry{*static_cast<const B*>(values), owner.behaviour, owner.object, {}, {}};
    entry.seen = objects_seen_by(entry.values);
    if (free_.empty()) {
      entries_.push_back(std::move(entry));
      return static_cast<std::uint32_t>(entries_.size() - 1);
    }
    const std::uint32_t row = free_.back();
    free_.pop_back();
    entries_[row] = std::move(entry);
    return row;
  }
  void remove(std::uint32_t row) override { free_.push_back(row); }
  const void* values(std::uint32_t row) const override { return &entries_[row].values; }
  void set_values(std::uint32_t row, const void* values) override {
    entries_[row].values = *static_cast<const B*>(values);
    entries_[row].seen = objects_seen_by(entries_[row].values);
    if constexpr (WithMemory<B>) entries_[row].memory.at = Time::min();  // what it gave was by other values
  }
  unsigned variant(std::uint32_t) const override { return 0; }
  std::unique_ptr<Column> column(unsigned) override;
  void begin(std::uint32_t row, const Start& start) noexcept override;
  bool absorb(std::uint32_t, OwnTime, const Start&, const void*) override { return false; }
  std::unique_ptr<Roster> copy() const override { return std::make_unique<OwnRoster>(*this); }
  void take_back(const Roster& copy, bool values_too) override {
    const auto& from = static_cast<const OwnRoster&>(copy).entries_;
    for (std::size_t row = 0; row < from.size(); ++row) {
      if (values_too) set_values(static_cast<std::uint32_t>(row), &from[row].values);
      entries_[row].memory = from[row].memory;
    }
  }

  void take_state(std::uint32_t row, const Roster& from, std::uint32_t from_row) override {
    entries_[row].memory = static_cast<const OwnRoster&>(from).entries_[from_row].memory;
  }

  /// Gives the pose and what is wrong with it, if anything.
  std::string_view ask(Entry& entry, const Pose& in, const Moment& now, bool commit, Pose& out);
  Entry& entry(std::uint32_t row) { return entries_[row]; }
  /// What it gave at the last tick; nullptr where it has no memory or has given nothing yet.
  static const Pose* last_given(const Entry& entry) {
    if constexpr (WithMemory<B>) {
      if (entry.memory.at != Time::min()) return &entry.memory.out;
    }
    return nullptr;
  }

  static References objects_seen_by(const B& behaviour) {
    References objects = objects_named(fields_of<B>(), &behaviour);
    if constexpr (requires { behaviour.looks_at(); }) {
      const auto& seen = behaviour.looks_at();
      objects.each.insert(objects.each.end(), seen.begin(), seen.end());
    }
    return objects;
  }

 private:
  std::vector<Entry> entries_;
  std::vector<std::uint32_t> free_;
};

template <OwnBehaviour B>
class OwnColumn final : public Column {
 public:
  explicit OwnColumn(OwnRoster<B>& roster) : roster_{roster} {}

  void resize(std::size_t blocks) override { rows_.resize(blocks * lanes); }
  void fill(std::size_t block, int lane, std::uint32_t row) override {
    rows_[block * lanes + static_cast<std::size_t>(lane)] = row;
  }
  void evaluate(std::size_t block, PoseBlock& poses, const BlockMoment& moment) noexcept override {
    const UserCodeGuard guard{moment.sight->user_code};
    for (int lane = 0; lane < lanes; ++lane) {
      if (!moment.is_active(lane)) continue;
      const std::uint32_t row = rows_[block * lanes + static_cast<std::size_t>(lane)];
      auto& entry = roster_.entry(row);
      const OwnTime own{moment.whole->at[lane], moment.rest->at[lane]};
      const Moment now{moment.time,  own.seconds(), moment.step,     lane_of(*moment.parent, lane),
                       moment.sight, &entry.seen,   entry.behaviour, entry.owner};
      const Pose in = lane_of(poses, lane);
      const bool commit = moment.remember == Remember::tick;
      Pose out;
      std::string thrown;
      std::string_view wrong;
      try {
        wrong = roster_.ask(entry, in, now, commit, out);
      } catch (const std::exception& error) {
        thrown = error.what();
        wrong = thrown;
      } catch (...) {
        wrong = "it threw what is not a std::exception";
      }
      if (moment.sight->user_code.take_call()) wrong = UserCode::advice;
      if (wrong.empty())
        set_lane(poses, lane, out);
      else
        moment.sight->failed(entry.behaviour, {wrong, commit, WithMemory<B>, in, roster_.last_given(entry)});
    }
  }

 private:
  OwnRoster<B>& roster_;
  std::vector<std::uint32_t> rows_;
};

template <OwnBehaviour B>
std::unique_ptr<Column> OwnRoster<B>::column(unsigned) {
  return std::make_unique<OwnColumn<B>>(*this);
}

template <OwnBehaviour B>
void OwnRoster<B>::begin(std::uint32_t row, const Start& start) noexcept {
  if constexpr (WithMemory<B>) {
    Entry& entry = entries_[row];
    Moment now = start.moment;
    now.seen = &entry.seen;
    now.behaviour = entry.behaviour;
    now.owner = entry.owner;
    const UserCodeGuard guard{now.sight->user_code};
    entry.memory = {};
    std::string thrown;
    std::string_view wrong;
    try {
      if constexpr (requires { entry.values.begin(start.in, now); })
        entry.memory.state = entry.values.begin(start.in, now);
      Pose out;
      wrong = ask(entry, start.in, now, true, out);
    } catch (const std::exception& error) {
      thrown = error.what();
      wrong = thrown;
    } catch (...) {
      wrong = "it threw what is not a std::exception";
    }
    if (now.sight->user_code.take_call()) wrong = UserCode::advice;
    if (!wrong.empty()) now.sight->failed(entry.behaviour, {wrong, true, true, start.in, nullptr});
  }
}

/// Memory is taken further only by what went well.
template <OwnBehaviour B>
std::string_view OwnRoster<B>::ask(Entry& entry, const Pose& in, const Moment& now, bool commit, Pose& out) {
  constexpr std::string_view not_finite = "it gave a pose that is not finite";
  if constexpr (WithMemory<B>) {
    Memory<B>& memory = entry.memory;
    if (memory.at == now.time) {
      out = memory.out;
      return {};
    }
    memory.next = memory.state;
    out = entry.values.apply(memory.next, in, now);
    if (!make_sound(out)) return not_finite;
    if (!commit || now.sight->user_code.called_scene) return {};
    std::swap(memory.state, memory.next);
    memory.out = out;
    memory.at = now.time;
    return {};
  } else {
    out = entry.values.apply(in, now);
    return make_sound(out) ? std::string_view{} : not_finite;
  }
}

template <OwnBehaviour B>
class OwnKind final : public Kind {
 public:
  std::string_view name() const override {
    if constexpr (requires { B::kind; }) {
      return B::kind;
    } else {
      return "own";
    }
  }
  std::string_view summary() const override {
    if constexpr (requires { B::summary; }) {
      return B::summary;
    } else {
      return "a behaviour of the program's own";
    }
  }
  std::span<const FieldInfo> fields() const override { return fields_of<B>(); }
  std::span<const Either> alternatives() const override { return {}; }
  std::span<const OneOf> exactly_one() const override { return {}; }
  std::string_view example() const override { return ""; }

  bool has_memory() const override { return WithMemory<B>; }
  bool bridges() const override {
    if constexpr (requires { B::bridges; }) {
      return B::bridges;
    } else {
      return true;
    }
  }
  bool needs_start(const void*) const override { return true; }
  References looks_at(const void* values) const override {
    return OwnRoster<B>::objects_seen_by(*static_cast<const B*>(values));
  }
  std::optional<Complaint> check(const void*, const Pose*) const override { return std::nullopt; }

  std::unique_ptr<Roster> roster() const override { return std::make_unique<OwnRoster<B>>(); }
  std::shared_ptr<void> make(const void* values) const override {
    if (values) return std::make_shared<B>(*static_cast<const B*>(values));
    if constexpr (std::is_default_constructible_v<B>) {
      return std::make_shared<B>();
    } else {
      return nullptr;
    }
  }
};

template <class B>
const Kind& kind_of() {
  static_assert(OwnBehaviour<B>,
                "a behaviour of your own needs `Pose apply(const Pose& in, const Moment& now) const`, "
                "or, with a copyable State, `Pose apply(State&, const Pose&, const Moment&) const`");
  static const OwnKind<B> kind;
  return kind;
}

}  // namespace inside
}  // namespace hushed
