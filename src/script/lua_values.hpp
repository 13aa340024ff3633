// SPDX-License-Identifier: MIT
#pragma once

// Vectors, rotations and arguments of functions, as Lua sees them.

#include <cstdint>
#include <initializer_list>
#include <optional>
#include <span>
#include <string>
#include <string_view>

#include <lua.hpp>

#include <hushed/handle.hpp>
#include <hushed/pose.hpp>

namespace hushed::script {

/// The two types of values that scripts compute with beside numbers. All data that Lua holds for us begins with its
/// type.
enum class Type : std::uint64_t { argument, vector, rotation, list };
struct Argument {
  Type type = Type::argument;
};
struct Vector {
  Type type = Type::vector;
  double x, y, z;
};
struct Rotation {
  Type type = Type::rotation;
  double x, y, z, w;
};

/// The objects with a tag.
struct List {
  Type type = Type::list;
  std::size_t number;  ///< of the field, among those that are tagged
};

inline constexpr const char *vector_type = "vector", *rotation_type = "rotation", *list_type = "list";

/// Each pushes a result and returns how many. Within a call, vectors and rotations are those of a pool, which the next
/// call uses again: no script can keep one.
int push(lua_State* lua, const Vec3& v);
int push(lua_State* lua, const Quat& q);
/// An object: its handle.
int push(lua_State* lua, Object object);
/// The object at a place of the stack; nothing where there is no object.
std::optional<Object> object_at(lua_State* lua, int at);
void push_list(lua_State* lua, std::size_t number);
inline int push(lua_State* lua, double number) { return lua_pushnumber(lua, number), 1; }

/// The data at a place of the stack where it is of the type; otherwise nullptr.
template <class Data>
const Data* data_at(lua_State* lua, int at) {
  const auto* data = static_cast<const Data*>(lua_type(lua, at) == LUA_TUSERDATA ? lua_touserdata(lua, at) : nullptr);
  return data && data->type == Data{}.type ? data : nullptr;
}
inline bool is_vector(lua_State* lua, int at) { return data_at<Vector>(lua, at) != nullptr; }

/// "a number", "nil", ...
std::string described(lua_State* lua, int at);
/// Raises an error in Lua, with the line where the script is.
[[noreturn]] void fail(lua_State* lua, const std::string& text);

/// An argument of the type. Fails, with `of` as what it is, where it is of another.
double number_at(lua_State* lua, int at, const char* of);
Vec3 vector_at(lua_State* lua, int at, const char* of);
Quat rotation_at(lua_State* lua, int at, const char* of);
/// A text; empty for anything else.
std::string_view text_at(lua_State* lua, int at);

/// Sets functions in the table at the top of the stack, with the pools of vectors and rotations as their upvalues.
void set_functions(lua_State* lua, std::span<const luaL_Reg> functions);
/// A metatable with these functions.
void add_type(lua_State* lua, const char* name, std::initializer_list<luaL_Reg> functions);
/// Where a script sets what cannot be set.
int refuse_setting(lua_State* lua);

}  // namespace hushed::script
