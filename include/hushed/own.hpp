// SPDX-License-Identifier: MIT
#pragma once

// Behaviours that you write: any copyable struct with one of
//
//     Pose apply(const Pose& in, const Moment& now) const;                      a function of time
//     Pose apply(State& state, const Pose& in, const Moment& now) const;        with state, of the type `State`
//
// is accepted by `Scene::give` like a built-in one. `in` is the pose from the behaviours below; the result is the pose
// for those above. Optional members:
//
//     std::vector<Object> dependencies() const;        objects whose poses `apply` reads: they are evaluated first.
//                                                      Objects of a `Target` or `Place` field need not be listed
//     State begin(const Pose& in, const Moment& now) const;        the state at the start; State{} if not given
//     State empty() const; void begin(State& state, const Pose& in, const Moment& now) const;
//                                                      instead, for a state that owns memory: `empty` reserves it once,
//                                                      and `begin` sets it in its place
//     static constexpr bool thread_safe = true;        `apply` and `begin` may be called on any thread of the scene;
//                                                      by default on the one that calls `advance`
//     static constexpr bool bridges = false;           a change of values shows at once, as a jump; by default the
//                                                      difference fades away
//     static constexpr auto kind = "hover", summary = "...", fields = std::tuple{field(...), ...};
//                                                      for scene files, which name it once it is in a list: see `Kinds`
//     std::optional<Diagnostic> check() const;         what is wrong with its values together
//
//     struct State { ... void archive(Archive& a) { a(height, velocity); } };   for `Snapshot::to_bytes`, where the
//                                                      state owns memory
//
// A behaviour with state is called with `now.step == 0` when it starts, then once a tick. For a frame between two ticks
// it is called with a copy of its state. After its values changed at a tick it is called again there, with
// `now.step == 0`.
//
// None of these functions may call the scene; they read other objects with `now.world(...)`. If `apply` throws, returns
// a pose that is not finite or calls the scene, the incoming pose passes through and the event "failed" says why. It is
// called again at the next tick (a function of time: at the next frame).

#include <algorithm>
#include <concepts>
#include <exception>
#include <memory>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/error.hpp>

namespace hushed HUSHED_API {

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

namespace detail {

template <OwnBehaviour B>
class OwnKind;

/// Normalises the rotation of a pose that user code has computed. Returns false where the pose is not finite or exceeds
/// the limits of `compose`.
bool make_sound(Pose& pose);

/// Calls user code and returns its result: the text of a problem, or an empty text. Where the program is compiled with
/// exceptions, an exception is caught and its text returned; `thrown` holds that text.
template <class Code>
std::string_view call_user_code([[maybe_unused]] std::string& thrown, Code&& code) {
#if defined(__cpp_exceptions)
  try {
    return code();
  } catch (const std::exception& error) {
    thrown = error.what();
    return thrown;
  } catch (...) {
    return "it threw an exception that is not a std::exception";
  }
#else
  return code();
#endif
}

/// The state of one behaviour, its last output, and the time of that.
template <class B>
struct Memory {};

template <WithMemory B>
struct Memory<B> {
  typename B::State state = {};
  typename B::State next = {};  ///< the next state, while `apply` computes it
  Pose out = {};
  Time at = Time::min();
};

/// Its state owns memory that is kept: `empty` reserves it, and `begin` sets it in its place.
template <class B>
concept WithKeptMemory = WithMemory<B> &&
    requires(const B& behaviour, typename B::State& state, const Pose& in, const Moment& now) {
  { behaviour.empty() } -> std::convertible_to<typename B::State>;
  behaviour.begin(state, in, now);
};

template <OwnBehaviour B>
class OwnStore final : public BehaviourStore {
 public:
  struct Entry {
    B values;
    std::uint32_t behaviour;
    Object owner;
    std::uint64_t seed;
    References readable;
    Memory<B> memory;
  };

  std::uint32_t add(const void* values, const Owner& owner) override {
    Entry entry{*static_cast<const B*>(values), owner.behaviour, owner.object, owner.number, {}, {}};
    entry.readable = objects_read_by(entry.values);
    if constexpr (WithKeptMemory<B>) entry.memory.state = entry.memory.next = entry.values.empty();
    return entries_.add(std::move(entry));
  }
  void remove(std::uint32_t row) override { entries_.remove(row); }
  const void* values(std::uint32_t row) const override { return &entries_[row].values; }
  void set_values(std::uint32_t row, const void* values) override {
    entries_[row].values = *static_cast<const B*>(values);
    entries_[row].readable = objects_read_by(entries_[row].values);
    if constexpr (WithMemory<B>) entries_[row].memory.at = Time::min();  // the last output belongs to other values
  }
  unsigned variant(std::uint32_t) const override { return 0; }
  std::unique_ptr<LaneBlocks> lane_blocks(unsigned) override;
  void begin(std::uint32_t row, const Start& start) noexcept override;
  bool absorb(std::uint32_t, OwnTime, const Start&, const void*) override { return false; }
  std::unique_ptr<BehaviourStore> copy() const override { return std::make_unique<OwnStore>(*this); }
  bool restore(const BehaviourStore& copy, bool values_too) override {
    const auto& from = static_cast<const OwnStore&>(copy).entries_;
    // Rows that only one of the two has are not in use.
    for (std::size_t row = 0; row < std::min(from.size(), entries_.size()); ++row) {
      if (values_too) set_values(static_cast<std::uint32_t>(row), &from[row].values);
      entries_[row].memory = from[row].memory;
    }
    return values_too;
  }

  void archive(std::uint32_t row, Archive& archive) override {
    if constexpr (WithMemory<B>) {
      using State = typename B::State;
      Memory<B>& memory = entries_[row].memory;
      archive(memory.at, memory.out);
      if constexpr (requires { memory.state.archive(archive); })
        memory.state.archive(archive);
      else if constexpr (std::is_trivially_destructible_v<State>)  // it owns nothing, so its bytes are all there is
        archive.raw(static_cast<void*>(&memory.state), sizeof(State));
      else
        throw BadValue{
            std::string{OwnKind<B>{}.name()} +
            ": its State owns memory; give it `void archive(Archive& archive) { archive(member, ...); }`, or "
            "keep snapshots in memory."};
    }
  }
  void take_state(std::uint32_t row, const BehaviourStore& from, std::uint32_t from_row) override {
    entries_[row].memory = static_cast<const OwnStore&>(from).entries_[from_row].memory;
  }

  /// Computes the output. Returns the problem with it; an empty text where there is none.
  std::string_view ask(Entry& entry, const Pose& in, const Moment& now, bool commit, const UserCall& call, Pose& out);
  Entry& entry(std::uint32_t row) { return entries_[row]; }
  /// The output at the last tick; nullptr where it has no state or has no output yet.
  static const Pose* last_given(const Entry& entry) {
    if constexpr (WithMemory<B>) {
      if (entry.memory.at != Time::min()) return &entry.memory.out;
    }
    return nullptr;
  }

  static References objects_read_by(const B& behaviour) {
    if constexpr (requires { behaviour.references(); }) return behaviour.references();
    References objects = objects_named(fields_of<B>(), &behaviour);
    if constexpr (requires { behaviour.dependencies(); }) {
      const auto& readable = behaviour.dependencies();
      objects.each.insert(objects.each.end(), readable.begin(), readable.end());
    }
    return objects;
  }

 private:
  RowTable<Entry> entries_;
};

template <OwnBehaviour B>
class OwnBlocks final : public LaneBlocks {
 public:
  explicit OwnBlocks(OwnStore<B>& store) : store_{store} {}

  void resize(std::size_t blocks) override { rows_.resize(blocks * lanes); }
  void fill(std::size_t block, int lane, std::uint32_t row) override {
    rows_[block * lanes + static_cast<std::size_t>(lane)] = row;
  }
  void evaluate(std::size_t block, PoseBlock& poses, const EvalContext& context) noexcept override {
    UserCall call{context.query->scene};
    const bool commit = context.remember == Remember::tick;
    std::string thrown;
    Moment now{.time = context.time, .step = context.step, .query = context.query};
    for (int lane = 0; lane < lanes; ++lane) {
      if (!context.is_active(lane)) continue;
      auto& entry = store_.entry(rows_[block * lanes + static_cast<std::size_t>(lane)]);
      now.since_start = OwnTime{context.whole->at[lane], context.rest->at[lane]}.seconds();
      if (!context.in_world) now.parent = lane_of(*context.parent, lane);
      now.readable = &entry.readable;
      now.behaviour = entry.behaviour;
      now.owner = entry.owner;
      now.seed = entry.seed;
      const Pose in = lane_of(poses, lane);
      Pose out;
      std::string_view wrong = call_user_code(thrown, [&] { return store_.ask(entry, in, now, commit, call, out); });
      if (call.take_call_of_scene()) wrong = UserCall::advice;
      if (wrong.empty())
        set_lane(poses, lane, out);
      else
        context.query->failed(entry.behaviour, {wrong, commit, WithMemory<B>, in, store_.last_given(entry)});
    }
  }

 private:
  OwnStore<B>& store_;
  std::vector<std::uint32_t> rows_;
};

template <OwnBehaviour B>
std::unique_ptr<LaneBlocks> OwnStore<B>::lane_blocks(unsigned) {
  return std::make_unique<OwnBlocks<B>>(*this);
}

template <OwnBehaviour B>
void OwnStore<B>::begin(std::uint32_t row, const Start& start) noexcept {
  if constexpr (WithMemory<B>) {
    Entry& entry = entries_[row];
    Moment now = start.moment;
    now.readable = &entry.readable;
    now.behaviour = entry.behaviour;
    now.owner = entry.owner;
    now.seed = entry.seed;
    UserCall call{now.query->scene};
    if constexpr (WithKeptMemory<B>) {
      entry.memory.out = {};
      entry.memory.at = Time::min();
    } else {
      entry.memory = {};
    }
    std::string thrown;
    std::string_view wrong = call_user_code(thrown, [&] {
      if constexpr (WithKeptMemory<B>)
        entry.values.begin(entry.memory.state, start.in, now);
      else if constexpr (requires { entry.values.begin(start.in, now); })
        entry.memory.state = entry.values.begin(start.in, now);
      Pose out;
      return ask(entry, start.in, now, true, call, out);
    });
    if (call.take_call_of_scene()) wrong = UserCall::advice;
    if (!wrong.empty()) now.query->failed(entry.behaviour, {wrong, true, true, start.in, nullptr});
  }
}

/// State is advanced only where `apply` succeeds.
template <OwnBehaviour B>
std::string_view OwnStore<B>::ask(Entry& entry, const Pose& in, const Moment& now, bool commit,
                                  [[maybe_unused]] const UserCall& call, Pose& out) {
  constexpr std::string_view not_finite = "it returned a pose that is not finite";
  if constexpr (WithMemory<B>) {
    Memory<B>& memory = entry.memory;
    if (memory.at == now.time) {
      out = memory.out;
      return {};
    }
    memory.next = memory.state;
    out = entry.values.apply(memory.next, in, now);
    if (!make_sound(out)) return not_finite;
    if (!commit || call.has_called_scene()) return {};
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
  bool is_anonymous() const override {
    return !requires { B::kind; };
  }
  std::string_view summary() const override {
    if constexpr (requires { B::summary; }) {
      return B::summary;
    } else {
      return "a behaviour written in the program";
    }
  }
  std::span<const FieldInfo> fields() const override { return fields_of<B>(); }
  std::span<const Either> alternatives() const override { return {}; }
  std::span<const OneOf> exactly_one() const override { return {}; }
  std::string_view example() const override { return ""; }

  const KindTraits& traits() const override {
    static constexpr KindTraits traits{.has_memory = WithMemory<B>,
                                       .holds_when_stopped = WithMemory<B>,
                                       .thread_safe = is_thread_safe(),
                                       .bridges = bridges()};
    return traits;
  }
  bool needs_start(const void*) const override { return true; }
  References dependencies(const void* values) const override {
    return OwnStore<B>::objects_read_by(*static_cast<const B*>(values));
  }
  std::optional<Diagnostic> check([[maybe_unused]] const void* values, const Pose*) const override {
    if constexpr (requires(const B& behaviour) { behaviour.check(); }) {
      return static_cast<const B*>(values)->check();
    } else {
      return std::nullopt;
    }
  }

  std::unique_ptr<BehaviourStore> store() const override { return std::make_unique<OwnStore<B>>(); }
  std::shared_ptr<void> make(const void* values) const override {
    if (values) return std::make_shared<B>(*static_cast<const B*>(values));
    if constexpr (std::is_default_constructible_v<B>) {
      return std::make_shared<B>();
    } else {
      return nullptr;
    }
  }

 private:
  static constexpr bool is_thread_safe() {
    if constexpr (requires { B::thread_safe; }) {
      return B::thread_safe;
    } else {
      return false;
    }
  }
  static constexpr bool bridges() {
    if constexpr (requires { B::bridges; }) {
      return B::bridges;
    } else {
      return true;
    }
  }
};

template <class B>
struct OwnKindOf {
  static const Kind& kind() {
    if constexpr (OwnBehaviour<B>) {
      static const OwnKind<B> kind;
      return kind;
    } else {
      static_assert(OwnBehaviour<B>,
                    "a behaviour needs `Pose apply(const Pose& in, const Moment& now) const`, or, with a copyable and "
                    "default-constructible `State`, `Pose apply(State&, const Pose& in, const Moment& now) const`");
      std::terminate();
    }
  }
};

}  // namespace detail
}  // namespace hushed
