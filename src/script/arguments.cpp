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

std::string names_of(const std::vector<Part>& parts) {
  std::string names;
  for (const Part& part : parts) names += (names.empty() ? "" : ", ") + *part.name;
  return names.empty() ? "nothing" : names;
}

/// The part that the second argument names.
const Part& part_of(lua_State* lua, const std::vector<Part>& parts, const char* of) {
  const char* const key = lua_tostring(lua, 2);
  for (const Part& part : parts)
    if (part.word == key) return part;
  for (const Part& part : parts)  // Lua may have several copies of a long text
    if (key && *part.name == key) return part;
  no_such_part(lua, of, names_of(parts));
}

int field(lua_State* lua) {
  const Call& call = call_of(lua);
  const Part& part = part_of(lua, call.fields, "my");
  const double* const numbers = call.values->numbers.data() + part.at;
  using Type = RuntimeField::Type;
  switch (part.type) {
    case Type::number: return push(lua, *numbers);
    case Type::boolean: return lua_pushboolean(lua, *numbers != 0.0), 1;
    case Type::vector: return push(lua, Vec3{numbers[0], numbers[1], numbers[2]});
    case Type::word: {
      for (const RuntimeField& each : call.declared->fields)
        if (&each.name == part.name) lua_pushstring(lua, each.words[static_cast<std::size_t>(*numbers)].c_str());
      return 1;
    }
    case Type::object: return push(lua, call.values->objects[part.at].object);
    case Type::tagged: return lua_rawgetp(lua, LUA_REGISTRYINDEX, &part), 1;
  }
  return 0;
}

/// What the script remembers under the key.
std::pair<const Part*, double*> remembered(lua_State* lua) {
  const Call& call = call_of(lua);
  const Part& part = part_of(lua, call.remembered, "kept");
  return {&part, call.memory.data() + part.at};
}
int part_of_kept(lua_State* lua) {
  const auto [part, at] = remembered(lua);
  return part->type == RuntimeField::Type::vector ? push(lua, Vec3{at[0], at[1], at[2]}) : push(lua, *at);
}
int set_part_of_kept(lua_State* lua) {
  const auto [part, at] = remembered(lua);
  const bool is_vector = part->type == RuntimeField::Type::vector;
  const auto wanted = [&](const char* of) {
    return is_vector ? vector_at(lua, 3, of) : Vec3{number_at(lua, 3, of), 0, 0};
  };
  const Vec3 number = wanted(part->in_errors.c_str());
  if (!number.allFinite()) fail(lua, part->in_errors + ": the number is not finite");
  for (int i = 0; i < (is_vector ? 3 : 1); ++i) at[i] = number[i];
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

void find_parts(lua_State* lua) {
  Call& call = call_of(lua);
  const auto find = [lua](const std::string& name, RuntimeField::Type type, std::size_t at) {
    const char* const word = lua_pushlstring(lua, name.data(), name.size());
    luaL_ref(lua, LUA_REGISTRYINDEX);  // so that it stays where it is
    return Part{word, &name, "kept." + name, type, at};
  };
  using Type = RuntimeField::Type;
  std::size_t numbers = 0, objects = 0, tags = 0;
  for (const RuntimeField& each : call.declared->fields) {
    std::size_t& at = each.type == Type::object ? objects : each.type == Type::tagged ? tags : numbers;
    call.fields.push_back(find(each.name, each.type, at));
    at += each.type == Type::vector ? 3 : 1;
  }
  numbers = 0;
  for (const Remembered& each : call.declared->memory) {
    call.remembered.push_back(find(each.name, each.is_vector ? Type::vector : Type::number, numbers));
    numbers += each.is_vector ? 3 : 1;
  }
  call.members.resize(tags);
  for (const Part& part : call.fields) {
    if (part.type != Type::tagged) continue;
    push_list(lua, part.at);
    lua_rawsetp(lua, LUA_REGISTRYINDEX, &part);
  }
}

}  // namespace hushed::script
