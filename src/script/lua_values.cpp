// SPDX-License-Identifier: MIT
#include "lua_values.hpp"

#include <cstdlib>
#include <new>

#include "call.hpp"

namespace hushed::script {

namespace {

constexpr std::size_t largest_pool = 4'096;

template <class Data>
Data& push_pooled(lua_State* lua, const char* type, std::size_t& used) {
  const bool is_pooled = call_of(lua).now && used < largest_pool;
  if (is_pooled) {
    ++used;
    lua_rawgetp(lua, LUA_REGISTRYINDEX, type);
    if (lua_rawgeti(lua, -1, static_cast<lua_Integer>(used)) == LUA_TUSERDATA) {
      lua_remove(lua, -2);
      return *static_cast<Data*>(lua_touserdata(lua, -1));
    }
    lua_pop(lua, 1);
  }
  auto* const made = new (lua_newuserdatauv(lua, sizeof(Data), 0)) Data{};
  luaL_setmetatable(lua, type);
  if (is_pooled) {
    lua_pushvalue(lua, -1);
    lua_rawseti(lua, -3, static_cast<lua_Integer>(used));
    lua_remove(lua, -2);
  }
  return *made;
}

}  // namespace

int push(lua_State* lua, const Vec3& v) {
  push_pooled<Vector>(lua, vector_type, call_of(lua).vectors) = {Type::vector, v.x(), v.y(), v.z()};
  return 1;
}
int push(lua_State* lua, const Quat& q) {
  push_pooled<Rotation>(lua, rotation_type, call_of(lua).rotations) = {Type::rotation, q.x(), q.y(), q.z(), q.w()};
  return 1;
}

std::string described(lua_State* lua, int at) {
  if (is_vector(lua, at)) return "a vector";
  if (data_at<Rotation>(lua, at)) return "a rotation";
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

void add_type(lua_State* lua, const char* name, std::initializer_list<luaL_Reg> functions) {
  luaL_newmetatable(lua, name);
  for (const luaL_Reg& each : functions) {
    lua_pushcfunction(lua, each.func);
    lua_setfield(lua, -2, each.name);
  }
  lua_pop(lua, 1);
}

int refuse_setting(lua_State* lua) { fail(lua, "this cannot be changed; make a new one, such as vector(x, y, z)"); }

}  // namespace hushed::script
