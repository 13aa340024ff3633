// SPDX-License-Identifier: MIT
#include "arguments.hpp"

#include <new>
#include <utility>

#include "call.hpp"
#include "lua_values.hpp"

namespace hushed::script {

namespace {

// --- the arguments ---------------------------------------------------------------------------------------------------

[[noreturn]] void no_such_part(lua_State* lua, const std::string& of, const std::string& parts) {
  const std::string_view key = text_at(lua, 2);
  fail(lua, of + " has no " + std::string{key.empty() ? "such part" : key} + "; it has " + parts);
}

int part_of_pose(lua_State* lua) {
  const Pose& pose = *call_of(lua).pose;
  const std::string_view key = text_at(lua, 2);
  if (key == "position") return push(lua, pose.position);
  if (key == "rotation") return push(lua, pose.rotation);
  if (key == "scale") return push(lua, pose.scale);
  no_such_part(lua, "pose", "position, rotation and scale");
}
int set_part_of_pose(lua_State* lua) {
  Pose& pose = *call_of(lua).pose;
  const std::string_view key = text_at(lua, 2);
  if (key == "position")
    pose.position = vector_at(lua, 3, "pose.position");
  else if (key == "rotation")
    pose.rotation = rotation_at(lua, 3, "pose.rotation");
  else if (key == "scale")
    pose.scale = vector_at(lua, 3, "pose.scale");
  else
    no_such_part(lua, "pose", "position, rotation and scale");
  return 0;
}

int part_of_now(lua_State* lua) {
  const Moment& now = *call_of(lua).now;
  const std::string_view key = text_at(lua, 2);
  if (key == "time") return push(lua, in_seconds(now.time));
  if (key == "since_start") return push(lua, now.since_start);
  if (key == "step") return push(lua, now.step);
  no_such_part(lua, "now", "time, since_start and step");
}

template <class Item>
std::string names_of(const std::vector<Item>& items) {
  std::string names;
  for (const Item& item : items) names += (names.empty() ? "" : ", ") + item.name;
  return names.empty() ? "nothing" : names;
}

int field(lua_State* lua) {
  const Call& call = call_of(lua);
  const std::string_view key = text_at(lua, 2);
  std::size_t number = 0, object = 0;
  for (const RuntimeField& each : call.declared->fields) {
    const bool is_it = each.name == key;
    using Type = RuntimeField::Type;
    const std::vector<double>& numbers = call.values->numbers;
    switch (each.type) {
      case Type::number:
        if (is_it) return push(lua, numbers[number]);
        break;
      case Type::boolean:
        if (is_it) return lua_pushboolean(lua, numbers[number] != 0.0), 1;
        break;
      case Type::vector:
        if (is_it) return push(lua, Vec3{numbers[number], numbers[number + 1], numbers[number + 2]});
        number += 2;
        break;
      case Type::word:
        if (is_it) return lua_pushstring(lua, each.words[static_cast<std::size_t>(numbers[number])].c_str()), 1;
        break;
      case Type::object:
        if (is_it) return lua_pushlightuserdata(lua, reinterpret_cast<void*>(object + 1)), 1;
        ++object;
        continue;
    }
    ++number;
  }
  no_such_part(lua, "my", names_of(call.declared->fields));
}

/// The place of what the script remembers under the key.
std::pair<const Remembered*, double*> remembered(lua_State* lua) {
  Call& call = call_of(lua);
  const std::string_view key = text_at(lua, 2);
  double* at = call.memory.data();
  for (const Remembered& each : call.declared->memory) {
    if (each.name == key) return {&each, at};
    at += each.is_vector ? 3 : 1;
  }
  no_such_part(lua, "kept", names_of(call.declared->memory));
}
int part_of_kept(lua_State* lua) {
  const auto [what, at] = remembered(lua);
  return what->is_vector ? push(lua, Vec3{at[0], at[1], at[2]}) : push(lua, *at);
}
int set_part_of_kept(lua_State* lua) {
  const auto [what, at] = remembered(lua);
  const std::string name = "kept." + what->name;
  const Vec3 wanted = what->is_vector ? vector_at(lua, 3, name.c_str()) : Vec3{number_at(lua, 3, name.c_str()), 0, 0};
  if (!wanted.allFinite()) fail(lua, name + ": the number is not finite");
  for (int i = 0; i < (what->is_vector ? 3 : 1); ++i) at[i] = wanted[i];
  return 0;
}

void push_argument(lua_State* lua, const char* type, lua_CFunction read, lua_CFunction write) {
  add_type(lua, type, {{"__index", read}, {"__newindex", write}});
  new (lua_newuserdatauv(lua, sizeof(Argument), 0)) Argument{};
  luaL_setmetatable(lua, type);
}

}  // namespace

void push_arguments(lua_State* lua) {
  push_argument(lua, "pose", part_of_pose, set_part_of_pose);
  push_argument(lua, "now", part_of_now, refuse_setting);
  push_argument(lua, "my", field, refuse_setting);
  push_argument(lua, "kept", part_of_kept, set_part_of_kept);
}

}  // namespace hushed::script
