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
//     static constexpr auto kind = "hover", summary = "...", fields = std::tuple{field(...), ...};
//
// A motion with memory is called with `now.step == 0` when it starts, then once a tick with the memory itself,
// and in between, for a frame, with a copy of it.

#include <concepts>
#include <exception>
#include <memory>
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
  typename B::State peek = {};
  Pose out = {};
  Time at = Time::min();
};

template <OwnBehaviour B>
class OwnRoster final : public Roster {
 public:
  struct Entry {
    B values;
    std::uint32_t behaviour;
    std::vector<Object> seen;
    Memory<B> memory;
  };

  std::uint32_t add(const void* values, const Owner& owner) override {
    Entry entry{*static_cast<const B*>(values), owner.behaviour, {}, {}};
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

  Pose pose_of(std::uint32_t row, const Pose& in, const Moment& now, bool commit);
  Entry& entry(std::uint32_t row) { return entries_[row]; }

  static std::vector<Object> objects_seen_by(const B& behaviour) {
    std::vector<Object> objects = objects_named(fields_of<B>(), &behaviour);
    if constexpr (requires { behaviour.looks_at(); }) {
      const auto& seen = behaviour.looks_at();
      objects.insert(objects.end(), seen.begin(), seen.end());
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
    for (int lane = 0; lane < lanes; ++lane) {
      if (!moment.is_active(lane)) continue;
      const std::uint32_t row = rows_[block * lanes + static_cast<std::size_t>(lane)];
      auto& entry = roster_.entry(row);
      const OwnTime own{moment.whole->at[lane], moment.rest->at[lane]};
      try {
        const Moment now{moment.time,  own.seconds(), moment.step,    lane_of(*moment.parent, lane),
                         moment.sight, entry.seen,    entry.behaviour};
        Pose out = roster_.pose_of(row, lane_of(poses, lane), now, moment.remember == Remember::tick);
        if (make_sound(out)) {
          set_lane(poses, lane, out);
        } else {
          moment.sight->failed(entry.behaviour, "it gave a pose that is not finite");
        }
      } catch (const std::exception& thrown) {
        moment.sight->failed(entry.behaviour, thrown.what());
      } catch (...) {
        moment.sight->failed(entry.behaviour, "it threw what is not a std::exception");
      }
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
    now.seen = entry.seen;
    now.behaviour = entry.behaviour;
    try {
      if constexpr (requires { entry.values.begin(start.in, now); }) {
        entry.memory.state = entry.values.begin(start.in, now);
      } else {
        entry.memory.state = {};
      }
      entry.memory.out = entry.values.apply(entry.memory.state, start.in, now);
      entry.memory.at = now.time;
    } catch (const std::exception& thrown) {
      now.sight->failed(entry.behaviour, thrown.what());
    } catch (...) {
      now.sight->failed(entry.behaviour, "it threw what is not a std::exception");
    }
  }
}

template <OwnBehaviour B>
Pose OwnRoster<B>::pose_of(std::uint32_t row, const Pose& in, const Moment& now, bool commit) {
  Entry& entry = entries_[row];
  if constexpr (WithMemory<B>) {
    Memory<B>& memory = entry.memory;
    if (memory.at == now.time) return memory.out;
    if (!commit) {
      memory.peek = memory.state;
      return entry.values.apply(memory.peek, in, now);
    }
    memory.out = entry.values.apply(memory.state, in, now);
    memory.at = now.time;
    return memory.out;
  } else {
    return entry.values.apply(in, now);
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
  bool needs_start(const void*) const override { return true; }
  std::vector<Object> looks_at(const void* values) const override {
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
