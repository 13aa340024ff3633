// SPDX-License-Identifier: MIT
#include "lua_values.hpp"

#include <cstdlib>
#include <new>

#include "call.hpp"
#include "words.hpp"

namespace hushed::script {

namespace {

constexpr std::size_t largest_pool = 4'096;

/// `pool`: the upvalue of the function that is called, which `set_functions` gave it.
template <class Data>
Data& push_pooled(lua_State* lua, const char* type, int pool, std::size_t& used) {
  const bool is_pooled = call_of(lua).now && used < largest_pool;
  if (is_pooled) {
    ++used;
    if (lua_rawgeti(lua, lua_upvalueindex(pool), static_cast<lua_Integer>(used)) == LUA_TUSERDATA)
      return *static_cast<Data*>(lua_touserdata(lua, -1));
    lua_pop(lua, 1);
  }
  auto* const made = new (lua_newuserdatauv(lua, sizeof(Data), 0)) Data{};
  luaL_setmetatable(lua, type);
  if (is_pooled) {
    lua_pushvalue(lua, -1);
    lua_rawseti(lua, lua_upvalueindex(pool), static_cast<lua_Integer>(used));
  }
  return *made;
}

}  // namespace

int push(lua_State* lua, const Vec3& v) {
  push_pooled<Vector>(lua, vector_type, 1, call_of(lua).vectors) = {Type::vector, v.x(), v.y(), v.z()};
  return 1;
}
int push(lua_State* lua, const Quat& q) {
  push_pooled<Rotation>(lua, rotation_type, 2, call_of(lua).rotations) = {Type::rotation, q.x(), q.y(), q.z(), q.w()};
  return 1;
}

// A script cannot make one up, so it has no object but those of its fields.
static_assert(sizeof(void*) >= sizeof(std::uint64_t));

int push(lua_State* lua, Object object) {
  const std::uint64_t bits = std::uint64_t{object.generation} << 32U | object.index;
  lua_pushlightuserdata(lua, reinterpret_cast<void*>(bits));
  return 1;
}
std::optional<Object> object_at(lua_State* lua, int at) {
  if (lua_type(lua, at) != LUA_TLIGHTUSERDATA) return std::nullopt;
  const void* const data = lua_touserdata(lua, at);
  if (!data || data == &object_word || data == &tagged_word) return std::nullopt;
  const auto bits = reinterpret_cast<std::uint64_t>(data);
  const Moment* const now = call_of(lua).now;
  return Object{static_cast<std::uint32_t>(bits), static_cast<std::uint32_t>(bits >> 32U), now ? now->owner.scene : 0};
}

void push_list(lua_State* lua, std::size_t number) {
  new (lua_newuserdatauv(lua, sizeof(List), 0)) List{Type::list, number};
  luaL_setmetatable(lua, list_type);
}

std::string described(lua_State* lua, int at) {
  if (is_vector(lua, at)) return "a vector";
  if (data_at<Rotation>(lua, at)) return "a rotation";
  if (data_at<List>(lua, at)) return "the objects with a tag";
  if (object_at(lua, at)) return "an object";
  switch (lua_type(lua, at)) {
    case LUA_TNONE: return "nothing";
    case LUA_TNIL: return "nil";
    case LUA_TNUMBER: return "a number";
    case LUA_TSTRING: return "a text";
    case LUA_TBOOLEAN: return "true or false";
    case LUA_TTABLE: return "a table";
    case LUA_TFUNCTION: return "a function";
    default: return "something else";
  }
}

/// Raises an error in Lua, with the line where the script is.
[[noreturn]] void fail(lua_State* lua, const std::string& text) {
  luaL_where(lua, 1);
  lua_pushlstring(lua, text.data(), text.size());
  lua_concat(lua, 2);
  lua_error(lua);
  std::abort();  // unreachable: Lua does not return
}

double number_at(lua_State* lua, int at, const char* of) {
  if (lua_type(lua, at) != LUA_TNUMBER) fail(lua, std::string{of} + ": expected a number, found " + described(lua, at));
  return lua_tonumber(lua, at);
}
Vec3 vector_at(lua_State* lua, int at, const char* of) {
  const auto* three = data_at<Vector>(lua, at);
  if (!three) fail(lua, std::string{of} + ": expected a vector, found " + described(lua, at));
  return {three->x, three->y, three->z};
}
Quat rotation_at(lua_State* lua, int at, const char* of) {
  const auto* four = data_at<Rotation>(lua, at);
  if (!four) fail(lua, std::string{of} + ": expected a rotation, found " + described(lua, at));
  return {four->w, four->x, four->y, four->z};
}

std::string_view text_at(lua_State* lua, int at) {
  std::size_t size = 0;
  const char* const text = lua_type(lua, at) == LUA_TSTRING ? lua_tolstring(lua, at, &size) : nullptr;
  return text ? std::string_view{text, size} : std::string_view{};
}

void set_functions(lua_State* lua, std::span<const luaL_Reg> functions) {
  for (const luaL_Reg& each : functions) {
    for (const char* const type : {vector_type, rotation_type})
      if (lua_rawgetp(lua, LUA_REGISTRYINDEX, type) == LUA_TNIL) {
        lua_pop(lua, 1);
        lua_newtable(lua);
        lua_pushvalue(lua, -1);
        lua_rawsetp(lua, LUA_REGISTRYINDEX, type);
      }
    lua_pushcclosure(lua, each.func, 2);
    lua_setfield(lua, -2, each.name);
  }
}

void add_type(lua_State* lua, const char* name, std::initializer_list<luaL_Reg> functions) {
  luaL_newmetatable(lua, name);
  set_functions(lua, functions);
  lua_pop(lua, 1);
}

int refuse_setting(lua_State* lua) { fail(lua, "this cannot be changed; make a new one, such as vector(x, y, z)"); }

}  // namespace hushed::script
