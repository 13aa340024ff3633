// SPDX-License-Identifier: MIT
// Kinds of behaviours that are written in C, or in a language that calls it.

#include <memory>
#include <string>
#include <vector>

#include <hushed/runtime_kind.hpp>

#include "scenes.hpp"

namespace hushed::c {

namespace {

/// What `hushed_moment::inside` points to.
struct Inside {
  const Moment& now;
  const std::vector<Target>& objects;
  std::string failure = {};
  bool has_failed = false;
};

std::string or_empty(const char* text) { return text ? text : ""; }

RuntimeField field_of(const hushed_field& given) {
  RuntimeField field{.name = std::string{text(given.name, "the name of a field")}};
  if (given.type < HUSHED_NUMBER || given.type > HUSHED_OBJECT)
    throw BadValue{"field " + field.name + ": its type is " + std::to_string(given.type) +
                   "; give one from HUSHED_NUMBER to HUSHED_OBJECT."};
  field.type = static_cast<RuntimeField::Type>(given.type);
  for (std::size_t i = 0; i < 3; ++i) field.fallback[i] = given.fallback[i];
  field.unit = or_empty(given.unit);
  field.help = or_empty(given.help);
  if (given.low != 0.0 || given.high != 0.0) {
    field.low = given.low;
    field.high = given.high;
  }
  for (size_t i = 0; i < given.word_count; ++i)
    field.words.emplace_back(text((&needed(given.words, "words"))[i], "words"));
  return field;
}

RuntimeKind::Description description_of(const hushed_kind& given) {
  RuntimeKind::Description description{.name = std::string{text(given.name, "the name of a kind")},
                                       .summary = or_empty(given.summary),
                                       .memory = given.memory,
                                       .thread_safe = given.thread_safe != 0};
  if (!given.apply) throw BadValue{description.name + ": apply is NULL; give a function."};
  if (given.memory > 65'536)
    throw BadValue{description.name + ": it remembers " + std::to_string(given.memory) +
                   " numbers; give at most 65536."};
  for (size_t i = 0; i < given.field_count; ++i)
    description.fields.push_back(field_of((&needed(given.fields, "fields"))[i]));
  return description;
}

class CallbackKind final : public RuntimeKind {
 public:
  explicit CallbackKind(const hushed_kind& given)
      : RuntimeKind{description_of(given)},
        begin_{given.begin},
        apply_{given.apply},
        release_{given.release},
        user_{given.user} {}
  CallbackKind(const CallbackKind&) = delete;
  CallbackKind& operator=(const CallbackKind&) = delete;
  ~CallbackKind() override {
    if (release_) release_(user_);
  }

  void begin(const RuntimeValues& values, std::span<double> memory, const Pose& in, const Moment& now) const override {
    Pose pose = in;
    if (begin_) call(begin_, values, memory, pose, now);
  }
  void apply(const RuntimeValues& values, std::span<double> memory, Pose& pose, const Moment& now) const override {
    call(apply_, values, memory, pose, now);
  }

 private:
  void call(hushed_apply function, const RuntimeValues& values, std::span<double> memory, Pose& pose,
            const Moment& now) const {
    constexpr std::size_t few = 16;
    std::array<hushed_object, few> on_stack;
    std::vector<hushed_object> on_heap;
    hushed_object* objects = on_stack.data();
    if (values.objects.size() > few) {
      on_heap.resize(values.objects.size());
      objects = on_heap.data();
    }
    for (std::size_t i = 0; i < values.objects.size(); ++i) objects[i] = number_of(values.objects[i].object);
    Inside inside{now, values.objects};
    const hushed_moment moment{in_seconds(now.time), now.since_start, now.step, pose_of(now.parent), &inside};
    hushed_pose result = pose_of(pose);
    function(user_, values.numbers.data(), objects, memory.data(), &result, &moment);
    if (inside.has_failed) throw Error{inside.failure};
    pose = pose_of(result);
  }

  hushed_apply begin_, apply_;
  void (*release_)(void* user);
  void* user_;
};

/// `const` in the interface, so that callbacks can pass their argument on.
Inside& inside(const hushed_moment* now) {
  void* const found = const_cast<void*>(needed(now, "now").inside);
  if (!found) throw BadValue{"the moment is none that a callback was given; pass on what it was given."};
  return *static_cast<Inside*>(found);
}

}  // namespace
}  // namespace hushed::c

using namespace hushed::c;

hushed_status hushed_kinds_new(hushed_kinds* kinds) {
  return guarded([&] { needed(kinds, "kinds") = kind_lists().add(std::make_unique<hushed::Kinds>()); });
}

hushed_status hushed_kinds_free(hushed_kinds kinds) {
  return guarded([&] { kind_lists().remove(kinds); });
}

hushed_status hushed_kinds_add(hushed_kinds kinds, const hushed_kind* kind) {
  return guarded([&] {
    hushed::Kinds& list = kind_lists().at(kinds);
    list.add(std::make_shared<const CallbackKind>(needed(kind, "kind")));
  });
}

hushed_status hushed_moment_world(const hushed_moment* now, hushed_object object, hushed_pose* pose) {
  return guarded([&] {
    const Inside& of = inside(now);
    for (const hushed::Target& target : of.objects)
      if (object != 0 && number_of(target.object) == object) {
        needed(pose, "pose") = pose_of(of.now.world(target.object));
        return;
      }
    throw hushed::BadValue{"the behaviour reads an object that is not one of its fields; give it a field for it."};
  });
}

void hushed_moment_fail(const hushed_moment* now, const char* text) {
  (void)guarded([&] {
    Inside& of = inside(now);
    of.has_failed = true;
    of.failure = text ? text : "it failed";
  });
}
