// SPDX-License-Identifier: MIT
#include "scenes.hpp"

#include <cmath>
#include <cstring>

#include <hushed/detail/scene_access.hpp>
#include <hushed/load.hpp>
#include <hushed/name.hpp>
#ifdef HUSHED_C_SCRIPT
#include <hushed/script.hpp>
#endif

namespace hushed::c {

namespace {

constexpr unsigned index_bits = 26, generation_bits = 22;
constexpr std::uint64_t index_mask = (std::uint64_t{1} << index_bits) - 1,
                        generation_mask = (std::uint64_t{1} << generation_bits) - 1;

HandleTable<PreparedScene, Sort::prepared>& prepared_scenes() {
  static HandleTable<PreparedScene, Sort::prepared> all;
  return all;
}

struct OpenSnapshot {
  Snapshot snapshot;
  std::vector<std::byte> bytes = {};  ///< once they were asked for
};

HandleTable<OpenSnapshot, Sort::snapshot>& snapshots() {
  static HandleTable<OpenSnapshot, Sort::snapshot> all;
  return all;
}

ProgramChanges changes_of(std::int32_t changes) {
  if (changes == HUSHED_KEEP_CHANGES) return ProgramChanges::keep;
  if (changes == HUSHED_DROP_CHANGES) return ProgramChanges::drop;
  throw BadValue{"changes: " + std::to_string(changes) +
                 " is unknown; give HUSHED_KEEP_CHANGES or HUSHED_DROP_CHANGES."};
}

hushed_scene opened(Scene&& scene, Kinds kinds) {
  return scenes().add(std::make_unique<OpenScene>(OpenScene{std::move(scene), std::move(kinds)}));
}

/// Replaces the content of a scene by what `load` does.
template <class Load>
void replace(hushed_scene handle, size_t* lost, Load&& load) {
  OpenScene& open = scenes().at(handle);
  open.lost = load(open);
  if (lost) *lost = open.lost.size();
}

MatrixLayout layout_of(const hushed_matrix_layout* layout) {
  if (!layout) return {};
  return {.up = layout->z_is_up ? Up::z : Up::y,
          .handedness = layout->is_left_handed ? Handedness::left : Handedness::right,
          .order = layout->by_row ? MatrixOrder::by_row : MatrixOrder::by_column,
          .origin = {layout->origin[0], layout->origin[1], layout->origin[2]}};
}

template <class Number>
hushed_status write_all(hushed_scene scene, const hushed_matrix_layout* layout, Number* to, size_t count) noexcept {
  return guarded([&] {
    if (count > 0) (void)needed(to, "to");
    scene_at(scene).write_matrices(std::span<Number>{to, count}, layout_of(layout));
  });
}

void check_room(size_t needed, size_t count) {
  if (count < needed)
    throw BadValue{"count: there is room for " + std::to_string(count) + " objects, and the scene has " +
                   std::to_string(needed) + "; give a larger array."};
}

template <class Do>
hushed_status with_object(hushed_scene scene, hushed_object object, Do&& what) noexcept {
  return guarded([&] {
    Scene& of = scene_at(scene);
    what(of, object_at(of, object));
  });
}

template <class Do>
hushed_status with_behaviour(hushed_scene scene, const char* path, Do&& what) noexcept {
  return guarded([&] {
    Scene& of = scene_at(scene);
    what(of, behaviour_at(of, path));
  });
}

Vec3 vector_of(const double* numbers, std::string_view what) {
  (void)needed(numbers, what);
  return {numbers[0], numbers[1], numbers[2]};
}

}  // namespace

HandleTable<OpenScene, Sort::scene>& scenes() {
  static HandleTable<OpenScene, Sort::scene> all;
  return all;
}

HandleTable<Kinds, Sort::kinds>& kind_lists() {
  static HandleTable<Kinds, Sort::kinds> all;
  return all;
}

Kinds kinds_at(hushed_kinds handle) {
  Kinds kinds = handle == 0 ? Kinds{} : kind_lists().at(handle);
#ifdef HUSHED_C_SCRIPT
  add_scripts(kinds);
#endif
  return kinds;
}

hushed_object number_of(Object object) {
  if (object.generation == 0) return 0;
  return (std::uint64_t{object.scene} & 0xFFFFU) << (index_bits + generation_bits) |
         (object.generation & generation_mask) << index_bits | (object.index & index_mask);
}

Object object_at(const Scene& scene, hushed_object number) {
  const auto found = detail::SceneAccess::handle_at(scene, static_cast<std::uint32_t>(number & index_mask));
  if (number == 0 || !found || number_of(*found) != number)
    throw StaleHandle{"the handle of the object is 0, of another scene, or of an object that has ended."};
  return *found;
}

std::optional<Object> object_or_none(const Scene& scene, hushed_object number) {
  return number == 0 ? std::nullopt : std::optional{object_at(scene, number)};
}

AnyBehaviour behaviour_at(const Scene& scene, const char* path) {
  const std::string_view wanted = text(path, "path");
  if (const auto found = scene.find_behaviour(wanted)) return *found;
  throw BadValue{"no behaviour " + in_quotes(wanted) + " in this scene; give OBJECT.BEHAVIOUR, such as \"lamp.spin\"."};
}

Pose pose_of(const hushed_pose& pose) {
  return {{pose.position[0], pose.position[1], pose.position[2]},
          Quat{pose.rotation[3], pose.rotation[0], pose.rotation[1], pose.rotation[2]},
          {pose.scale[0], pose.scale[1], pose.scale[2]}};
}

hushed_pose pose_of(const Pose& pose) {
  return {{pose.position.x(), pose.position.y(), pose.position.z()},
          {pose.rotation.x(), pose.rotation.y(), pose.rotation.z(), pose.rotation.w()},
          {pose.scale.x(), pose.scale.y(), pose.scale.z()}};
}

Time time_of(double seconds, std::string_view what) {
  if (!(seconds >= 0.0 && seconds <= 1e9))
    throw BadValue{std::string{what} + ": " + as_text(seconds) + " is out of range; give a number from 0 to 1e9 (s)."};
  return hushed::seconds(seconds);
}

}  // namespace hushed::c

using hushed::Object;
using hushed::Pose;
using hushed::Scene;
using namespace hushed::c;

// --- scenes ----------------------------------------------------------------------------------------------------------

hushed_status hushed_scene_new(double tick_rate, hushed_kinds kinds, hushed_scene* scene) {
  return guarded([&] { needed(scene, "scene") = opened(Scene{tick_rate}, kinds_at(kinds)); });
}

hushed_status hushed_scene_load(const char* file, hushed_kinds kinds, hushed_scene* scene) {
  return guarded([&] {
    hushed::Kinds known = kinds_at(kinds);
    auto read = hushed::read_scene_file(std::string{text(file, "file")}, {.kinds = &known});
    needed(scene, "scene") = opened(std::move(read.scene), std::move(known));
  });
}

hushed_status hushed_scene_read(const char* content, const char* name, hushed_kinds kinds, hushed_scene* scene) {
  return guarded([&] {
    hushed::Kinds known = kinds_at(kinds);
    auto read = hushed::read_scene_text(text(content, "text"), std::string{text(name, "name")}, {.kinds = &known});
    needed(scene, "scene") = opened(std::move(read.scene), std::move(known));
  });
}

hushed_status hushed_scene_free(hushed_scene scene) {
  return guarded([&] {
    if (scenes().at(scene).servers > 0)
      throw hushed::BadValue{"a live server plays the scene; free that by hushed_live_free first."};
    scenes().remove(scene);
  });
}

hushed_status hushed_advance(hushed_scene scene, double seconds) {
  return guarded([&] {
    Scene& of = scene_at(scene);
    (void)time_of(seconds, "seconds");
    of.advance(std::chrono::duration<double>{seconds});
  });
}

hushed_status hushed_time(hushed_scene scene, double* seconds) {
  return guarded([&] { needed(seconds, "seconds") = hushed::in_seconds(scene_at(scene).time()); });
}

hushed_status hushed_seek(hushed_scene scene, double seconds) {
  return guarded([&] { scene_at(scene).seek(time_of(seconds, "seconds")); });
}

hushed_status hushed_set_threads(hushed_scene scene, int32_t count) {
  return guarded([&] { scene_at(scene).set_threads(count); });
}

hushed_status hushed_shift_origin(hushed_scene scene, const double by[3]) {
  return guarded([&] { scene_at(scene).shift_origin(vector_of(by, "by")); });
}

hushed_status hushed_origin(hushed_scene scene, double origin[3]) {
  return guarded([&] {
    const hushed::Vec3& found = scene_at(scene).origin();
    (void)needed(origin, "origin");
    for (int i = 0; i < 3; ++i) origin[i] = found[i];
  });
}

hushed_status hushed_reload(hushed_scene scene, const char* file, int32_t changes, size_t* lost) {
  return guarded([&] {
    replace(scene, lost, [&](OpenScene& open) {
      return hushed::reload(open.scene, std::string{text(file, "file")}, {.kinds = &open.kinds}, changes_of(changes));
    });
  });
}

hushed_status hushed_prepare(const char* file, hushed_kinds kinds, hushed_prepared* prepared) {
  return guarded([&] {
    const hushed::Kinds known = kinds_at(kinds);
    auto read =
        std::make_unique<hushed::PreparedScene>(hushed::prepare(std::string{text(file, "file")}, {.kinds = &known}));
    needed(prepared, "prepared") = prepared_scenes().add(std::move(read));
  });
}

hushed_status hushed_prepared_free(hushed_prepared prepared) {
  return guarded([&] { prepared_scenes().remove(prepared); });
}

hushed_status hushed_adopt(hushed_scene scene, hushed_prepared prepared, int32_t changes, size_t* lost) {
  return guarded([&] {
    replace(scene, lost, [&](OpenScene& open) {
      const hushed::ProgramChanges wanted = changes_of(changes);
      return hushed::adopt(open.scene, std::move(*prepared_scenes().remove(prepared)), wanted);
    });
  });
}

hushed_status hushed_lost_at(hushed_scene scene, size_t number, char* to, size_t size, size_t* needed) {
  return guarded([&] {
    const auto& lost = scenes().at(scene).lost;
    if (number >= lost.size()) throw hushed::BadValue{"number: there is no such sentence."};
    write_text(lost[number], to, size, needed);
  });
}

// --- objects ---------------------------------------------------------------------------------------------------------

hushed_status hushed_add(hushed_scene scene, const hushed_new_object* description, hushed_object* object) {
  return guarded([&] {
    Scene& of = scene_at(scene);
    const hushed_new_object& given = needed(description, "description");
    (void)needed(object, "object");
    hushed::NewObject made{
        .name = given.name ? given.name : "",
        .parent = object_or_none(of, given.parent),
        .rest = pose_of(given.rest),
        .inherit = {(given.inherit & HUSHED_INHERIT_POSITION) != 0, (given.inherit & HUSHED_INHERIT_ROTATION) != 0,
                    (given.inherit & HUSHED_INHERIT_SCALE) != 0},
        .number = given.number};
    for (size_t i = 0; i < given.tag_count; ++i) made.tags.emplace_back(text((&needed(given.tags, "tags"))[i], "tags"));
    *object = number_of(of.add(made));
  });
}

hushed_status hushed_end(hushed_scene scene, hushed_object object) {
  return with_object(scene, object, [](Scene& of, Object it) { of.end(it); });
}
hushed_status hushed_hide(hushed_scene scene, hushed_object object) {
  return with_object(scene, object, [](Scene& of, Object it) { of.hide(it); });
}
hushed_status hushed_show(hushed_scene scene, hushed_object object) {
  return with_object(scene, object, [](Scene& of, Object it) { of.show(it); });
}

hushed_status hushed_find(hushed_scene scene, const char* name, hushed_object* object) {
  return guarded([&] {
    const auto found = scene_at(scene).find(text(name, "name"));
    needed(object, "object") = found ? number_of(*found) : 0;
  });
}

hushed_status hushed_is_alive(hushed_scene scene, hushed_object object, int32_t* is_alive) {
  return guarded([&] {
    Scene& of = scene_at(scene);
    try {
      needed(is_alive, "is_alive") = of.alive(object_at(of, object)) ? 1 : 0;
    } catch (const hushed::StaleHandle&) {
      *is_alive = 0;
    }
  });
}

hushed_status hushed_name(hushed_scene scene, hushed_object object, char* to, size_t size, size_t* needed) {
  return with_object(scene, object, [&](Scene& of, Object it) { write_text(of.name(it), to, size, needed); });
}

hushed_status hushed_set_rest(hushed_scene scene, hushed_object object, const hushed_pose* rest) {
  return with_object(scene, object, [&](Scene& of, Object it) { of.set_rest(it, pose_of(needed(rest, "rest"))); });
}

hushed_status hushed_set_parent(hushed_scene scene, hushed_object object, hushed_object parent,
                                int32_t keeps_world_pose) {
  return with_object(scene, object, [&](Scene& of, Object it) {
    of.set_parent(it, object_or_none(of, parent), keeps_world_pose ? hushed::KeepPose::world : hushed::KeepPose::local);
  });
}

hushed_status hushed_number(hushed_scene scene, hushed_object object, uint64_t* number) {
  return with_object(scene, object, [&](Scene& of, Object it) { needed(number, "number") = of.number(it); });
}
hushed_status hushed_set_number(hushed_scene scene, hushed_object object, uint64_t number) {
  return with_object(scene, object, [&](Scene& of, Object it) { of.set_number(it, number); });
}
hushed_status hushed_place(hushed_scene scene, hushed_object object, const char* pose) {
  return with_object(scene, object, [&](Scene& of, Object it) { of.place(it, text(pose, "pose")); });
}
hushed_status hushed_set_pace(hushed_scene scene, hushed_object object, double rate) {
  return with_object(scene, object, [&](Scene& of, Object it) { of.set_pace(it, rate); });
}

// --- poses -----------------------------------------------------------------------------------------------------------

hushed_status hushed_object_count(hushed_scene scene, size_t* count) {
  return guarded([&] { needed(count, "count") = scene_at(scene).size(); });
}

hushed_status hushed_objects(hushed_scene scene, hushed_object* to, size_t count) {
  return guarded([&] {
    const auto objects = scene_at(scene).objects();
    check_room(objects.size(), count);
    for (size_t i = 0; i < objects.size(); ++i) (&needed(to, "to"))[i] = number_of(objects[i]);
  });
}

hushed_status hushed_index_of(hushed_scene scene, hushed_object object, size_t* index) {
  return with_object(scene, object, [&](Scene& of, Object it) { needed(index, "index") = of.index_of(it); });
}

hushed_status hushed_world(hushed_scene scene, hushed_object object, hushed_pose* pose) {
  return with_object(scene, object, [&](Scene& of, Object it) { needed(pose, "pose") = pose_of(of.world(it)); });
}
hushed_status hushed_local(hushed_scene scene, hushed_object object, hushed_pose* pose) {
  return with_object(scene, object, [&](Scene& of, Object it) { needed(pose, "pose") = pose_of(of.local(it)); });
}

hushed_status hushed_world_poses(hushed_scene scene, hushed_pose* to, size_t count) {
  return guarded([&] {
    const auto poses = scene_at(scene).world_poses();
    check_room(poses.size(), count);
    for (size_t i = 0; i < poses.size(); ++i) (&needed(to, "to"))[i] = pose_of(poses[i]);
  });
}

hushed_status hushed_write_matrices(hushed_scene scene, const hushed_matrix_layout* layout, float* to, size_t count) {
  return write_all(scene, layout, to, count);
}
hushed_status hushed_write_matrices_double(hushed_scene scene, const hushed_matrix_layout* layout, double* to,
                                           size_t count) {
  return write_all(scene, layout, to, count);
}

hushed_status hushed_feed(hushed_scene scene, hushed_object object, const hushed_pose* pose) {
  return with_object(scene, object, [&](Scene& of, Object it) { of.feed(it, pose_of(needed(pose, "pose"))); });
}

hushed_status hushed_feed_all(hushed_scene scene, const hushed_object* objects, const hushed_pose* poses,
                              size_t count) {
  return guarded([&] {
    Scene& of = scene_at(scene);
    for (size_t i = 0; i < count; ++i)
      of.feed(object_at(of, (&needed(objects, "objects"))[i]), pose_of((&needed(poses, "poses"))[i]));
  });
}

hushed_status hushed_feed_at(hushed_scene scene, hushed_object object, const hushed_pose* pose, double seconds) {
  return with_object(scene, object, [&](Scene& of, Object it) {
    of.feed(it, pose_of(needed(pose, "pose")), time_of(seconds, "seconds"));
  });
}

hushed_status hushed_teleport(hushed_scene scene, hushed_object object, const hushed_pose* pose) {
  return with_object(scene, object, [&](Scene& of, Object it) { of.teleport(it, pose_of(needed(pose, "pose"))); });
}

// --- behaviours and values -------------------------------------------------------------------------------------------

hushed_status hushed_give(hushed_scene scene, hushed_object object, const char* content) {
  return guarded([&] {
    OpenScene& open = scenes().at(scene);
    hushed::give_from_text(open.scene, object_at(open.scene, object), text(content, "text"), open.kinds);
  });
}

hushed_status hushed_remove(hushed_scene scene, const char* path) {
  return with_behaviour(scene, path, [](Scene& of, auto it) { of.remove(it); });
}
hushed_status hushed_start(hushed_scene scene, const char* path) {
  return with_behaviour(scene, path, [](Scene& of, auto it) { of.start(it); });
}
hushed_status hushed_stop(hushed_scene scene, const char* path) {
  return with_behaviour(scene, path, [](Scene& of, auto it) { of.stop(it); });
}
hushed_status hushed_restart(hushed_scene scene, const char* path) {
  return with_behaviour(scene, path, [](Scene& of, auto it) { of.restart(it); });
}
hushed_status hushed_toggle(hushed_scene scene, const char* path) {
  return with_behaviour(scene, path, [](Scene& of, auto it) { of.toggle(it); });
}
hushed_status hushed_kick(hushed_scene scene, const char* path, const double by[3]) {
  return with_behaviour(scene, path, [&](Scene& of, auto it) { of.kick(it, vector_of(by, "by")); });
}
hushed_status hushed_retarget(hushed_scene scene, const char* path, hushed_object to) {
  return with_behaviour(scene, path, [&](Scene& of, auto it) { of.retarget(it, object_at(of, to)); });
}

hushed_status hushed_set(hushed_scene scene, const char* path, const char* value) {
  return guarded([&] { scene_at(scene).set(text(path, "path"), hushed::parse_value(text(value, "value"))); });
}

hushed_status hushed_set_double(hushed_scene scene, const char* path, double value) {
  return guarded([&] { scene_at(scene).set(text(path, "path"), hushed::Value{value}); });
}

hushed_status hushed_get(hushed_scene scene, const char* path, char* to, size_t size, size_t* needed) {
  return guarded([&] {
    const auto value = scene_at(scene).get(text(path, "path"));
    write_text(value ? hushed::as_text(*value) : "", to, size, needed);
  });
}

hushed_status hushed_get_double(hushed_scene scene, const char* path, double* value) {
  return guarded([&] {
    const auto found = scene_at(scene).get(text(path, "path"));
    const auto number = found ? found->number() : std::nullopt;
    if (!number) throw hushed::BadValue{std::string{path} + " is not a number; read it by hushed_get."};
    needed(value, "value") = *number;
  });
}

hushed_status hushed_reset(hushed_scene scene, const char* path) {
  return guarded([&] { scene_at(scene).reset(text(path, "path")); });
}

// --- input and events ------------------------------------------------------------------------------------------------

hushed_status hushed_press(hushed_scene scene, const char* key) {
  return guarded([&] { scene_at(scene).press(text(key, "key")); });
}
hushed_status hushed_release(hushed_scene scene, const char* key) {
  return guarded([&] { scene_at(scene).release(text(key, "key")); });
}
hushed_status hushed_axis(hushed_scene scene, const char* name, double value) {
  return guarded([&] { scene_at(scene).axis(text(name, "name"), value); });
}
hushed_status hushed_raise(hushed_scene scene, const char* event) {
  return guarded([&] { scene_at(scene).raise(text(event, "event")); });
}

hushed_status hushed_event_count(hushed_scene scene, size_t* count) {
  return guarded([&] { needed(count, "count") = scene_at(scene).events().size(); });
}

hushed_status hushed_event_at(hushed_scene scene, size_t number, hushed_event* event) {
  return guarded([&] {
    OpenScene& open = scenes().at(scene);
    const auto events = open.scene.events();
    if (number >= events.size())
      throw hushed::BadValue{"number: there are " + std::to_string(events.size()) + " events; give a number below."};
    const hushed::Event& found = events[number];
    std::string behaviour;
    try {
      if (found.behaviour.generation != 0) behaviour = open.scene.path(found.behaviour);
    } catch (const hushed::StaleHandle&) {  // it has ended since
    }
    open.event_texts = {std::string{found.name}, behaviour, std::string{found.rule}, open.scene.describe(found)};
    const auto& texts = open.event_texts;
    needed(event, "event") = {.time = hushed::in_seconds(found.time),
                              .name = texts[0].c_str(),
                              .subject = number_of(found.subject),
                              .other = number_of(found.other),
                              .behaviour = texts[1].c_str(),
                              .rule = texts[2].c_str(),
                              .sentence = texts[3].c_str(),
                              .number = found.number};
  });
}

// --- snapshots -------------------------------------------------------------------------------------------------------

hushed_status hushed_snapshot_take(hushed_scene scene, hushed_snapshot* snapshot) {
  return guarded([&] {
    auto taken = std::make_unique<OpenSnapshot>(OpenSnapshot{scene_at(scene).snapshot()});
    needed(snapshot, "snapshot") = snapshots().add(std::move(taken));
  });
}

hushed_status hushed_snapshot_restore(hushed_scene scene, hushed_snapshot snapshot) {
  return guarded([&] { scene_at(scene).restore(snapshots().at(snapshot).snapshot); });
}

hushed_status hushed_snapshot_free(hushed_snapshot snapshot) {
  return guarded([&] { snapshots().remove(snapshot); });
}

hushed_status hushed_snapshot_to_bytes(hushed_snapshot snapshot, void* to, size_t size, size_t* needed) {
  return guarded([&] {
    OpenSnapshot& open = snapshots().at(snapshot);
    if (open.bytes.empty()) open.bytes = open.snapshot.to_bytes();
    if (needed) *needed = open.bytes.size();
    if (size < open.bytes.size()) return;
    std::memcpy(&hushed::c::needed(static_cast<char*>(to), "to"), open.bytes.data(), open.bytes.size());
  });
}

hushed_status hushed_snapshot_from_bytes(hushed_scene scene, const void* bytes, size_t size,
                                         hushed_snapshot* snapshot) {
  return guarded([&] {
    const auto* begin = &needed(static_cast<const char*>(bytes), "bytes");
    auto read = std::make_unique<OpenSnapshot>(
        OpenSnapshot{scene_at(scene).snapshot_from(std::as_bytes(std::span{begin, size}))});
    needed(snapshot, "snapshot") = snapshots().add(std::move(read));
  });
}
