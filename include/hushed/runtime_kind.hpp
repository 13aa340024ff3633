// SPDX-License-Identifier: MIT
#pragma once

// Kinds of behaviours that are made while the program runs, for other languages and for scripts. Behaviours written in
// C++ need none of this: see <hushed/own.hpp>.

#include <array>
#include <cstddef>
#include <deque>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/moment.hpp>
#include <hushed/place.hpp>
#include <hushed/pose.hpp>
#include <hushed/tagged.hpp>

namespace hushed HUSHED_API {

/// A field of such a kind: a key in files, a slider on the page.
struct RuntimeField {
  enum class Type { number, boolean, vector, word, object, tagged };

  std::string name;
  Type type = Type::number;
  std::array<double, 3> fallback = {};  ///< the default: a number, 0 or 1, three numbers, or the index of a word
  std::string unit = {};                ///< "m", "deg/s", ...; only shown
  double low = -1e9, high = 1e9;        ///< range of numbers, and of each of three
  std::optional<Slider> slider = {};    ///< its usual range
  std::vector<std::string> words = {};  ///< of which it is one
  std::string help = {};
};

class RuntimeKind;

/// The values of one behaviour.
struct RuntimeValues {
  const RuntimeKind* kind = nullptr;
  std::vector<double> numbers;  ///< of all other fields, in their order: one each, three for a vector
  std::vector<Target> objects;  ///< of all fields that are objects, in their order
  std::vector<Tagged> tagged;   ///< of all fields that are tags of objects, in their order
};

/// A kind whose behaviours compute a pose from numbers. Derive from it, make it by `std::make_shared`, and add it to a
/// list of `Kinds`. Scenes that use it share it.
class RuntimeKind : public detail::Kind {
 public:
  struct Description {
    std::string name;  ///< as in files
    std::string summary = {};
    std::vector<RuntimeField> fields = {};
    std::size_t memory = 0;  ///< how many numbers it remembers from tick to tick; 0: a function of time
    std::vector<std::string> memory_names = {};  ///< by which a later version of the kind takes them over; may be empty
    std::vector<double> memory_first = {};       ///< these numbers before `begin`; 0 where it has no more
    bool thread_safe = false;                    ///< `begin` and `apply` may be called on any thread of the scene

    /// Sets numbers to those of `memory_first`.
    void set_first(std::vector<double>& numbers) const;
  };

  /// Throws `BadValue` where a range, a default or a list of words makes no sense.
  explicit RuntimeKind(Description description);
  ~RuntimeKind() override;

  const Description& description() const { return description_; }

  /// Sets the numbers that it remembers at a start; they are those of `memory_first`.
  virtual void begin(const RuntimeValues& values, std::span<double> memory, const Pose& in, const Moment& now) const;
  /// Turns the pose from the behaviours below into the one for those above. With memory it is called once a tick, and
  /// for frames between two ticks with a copy. Throws `Error` where it fails: the incoming pose passes through, and the
  /// event "failed" tells why.
  virtual void apply(const RuntimeValues& values, std::span<double> memory, Pose& pose, const Moment& now) const = 0;

  /// What `check` reports of a kind beside the motion.
  struct Usage {
    std::vector<std::string> unread_fields;  ///< fields that it never reads
    double share_of_limits = 0.0;            ///< the most that one call has taken of what it may take, 0 to 1
  };
  virtual Usage usage() const { return {}; }
  /// What this version of the kind was made from, such as the text of a script. A hot reload to a version that was made
  /// from the same is no change for its behaviours. Empty where that is not known.
  virtual std::string_view made_from() const { return {}; }

  std::string_view name() const override { return description_.name; }
  std::string_view summary() const override { return description_.summary; }
  std::span<const FieldInfo> fields() const override { return fields_; }
  std::span<const Either> alternatives() const override { return {}; }
  std::span<const OneOf> exactly_one() const override { return {}; }
  std::string_view example() const override { return ""; }
  const detail::KindTraits& traits() const override { return traits_; }
  bool needs_start(const void*) const override { return true; }
  detail::References dependencies(const void* values) const override;
  std::optional<Diagnostic> check(const void* values, const Pose* in) const override;
  std::unique_ptr<detail::BehaviourStore> store() const override;
  std::shared_ptr<void> make(const void* values) const override;
  const RuntimeKind* as_runtime() const override { return this; }

  /// True where this version and another are known to be made from the same, and to remember as much.
  bool is_made_like(const RuntimeKind& other) const;
  /// Copies the numbers of the same names from a behaviour of an earlier version of this kind, or all of them where it
  /// is made like this one. Both have memory.
  void take_memory(detail::BehaviourStore& to, std::uint32_t row, const RuntimeKind& earlier,
                   detail::BehaviourStore& from, std::uint32_t from_row) const;
  /// Calls `apply` with these values and a copy of the numbers that `take_memory` would take. Returns its failure; an
  /// empty text where it works.
  std::string try_as_version(const void* values, const RuntimeKind& earlier, detail::BehaviourStore& from,
                             std::uint32_t from_row, const Pose& in, const Moment& now) const;

 private:
  std::vector<double> memory_from(const RuntimeKind& earlier, const std::vector<double>& numbers) const;

  /// A field and where its value is.
  struct Slot {
    const RuntimeField* field;
    std::size_t at;  ///< in the numbers, or in the objects
    Unit unit;
    std::vector<std::string_view> words;
  };
  FieldInfo info_of(const Slot& slot) const;
  static std::optional<Value> get(const void* slot, const void* owner);
  static std::optional<Diagnostic> set(const void* slot, void* owner, const Value& value);
  static void reset(const void* slot, void* owner);
  static std::optional<Diagnostic> check_field(const void* slot, const void* owner);
  static std::optional<Diagnostic> resolve_field(const void* slot, void* owner, const detail::Names& names);
  static void aim_field(const void* slot, void* owner, Object at);
  static void add_objects_of(const void* slot, const void* owner, detail::References& to);

  Description description_;
  RuntimeValues defaults_;
  detail::KindTraits traits_;
  std::deque<Slot> slots_;
  std::vector<FieldInfo> fields_;
};

}  // namespace hushed
