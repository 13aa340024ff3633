// SPDX-License-Identifier: MIT
#include "interpreter.hpp"

#include <algorithm>
#include <array>
#include <clocale>
#include <cmath>
#include <cstring>
#include <new>
#include <optional>

#include <lua.hpp>

#include <hushed/detail/constants.hpp>
#include <hushed/error.hpp>
#include <hushed/name.hpp>
#include <hushed/pose.hpp>
#include <hushed/seeded.hpp>

#include "lanes/exponential.hpp"
#include "lanes/trigonometry.hpp"
#include "locale.hpp"

namespace hushed::script {

// --- memory ----------------------------------------------------------------------------------------------------------

/// Memory for Lua: small pieces come from lists of free ones, which grow and never shrink, so that a script that is
/// called again and again asks the system for nothing.
struct Interpreter::Memory {
  static constexpr std::size_t step = 16, largest = 1024, chunk = 65'536;

  std::size_t used = 0;
  std::size_t allowed = std::size_t{8} << 20U;  ///< until the next call sets it
  bool is_over = false;
  Call* call = nullptr;
  lua_State* lua = nullptr;     ///< once it is there
  lua_Hook on_limit = nullptr;  ///< called by the next step beyond `allowed`

  void* change(void* old, std::size_t old_size, std::size_t size) {
    if (!old) old_size = 0;
    if (size > old_size && used + (size - old_size) > allowed) {
      // The next step of the script says where that is. Much more is refused at once.
      is_over = true;
      if (lua && size > old_size) lua_sethook(lua, on_limit, LUA_MASKCOUNT, 1);
      if (used + (size - old_size) > 4 * allowed) return nullptr;
    }
    used = used + size - old_size;
    if (size == 0) return free(old, old_size), nullptr;
    if (old && class_of(size) == class_of(old_size) && size <= largest) return old;
    void* const made = size > largest ? std::malloc(size) : small(class_of(size));
    if (!made) return used = used + old_size - size, nullptr;
    if (old) {
      std::memcpy(made, old, std::min(old_size, size));
      free(old, old_size);
    }
    return made;
  }

 private:
  static std::size_t class_of(std::size_t size) { return (size + step - 1) / step; }

  void* small(std::size_t number) {
    if (!free_[number]) {
      chunks_.push_back(std::make_unique<std::byte[]>(chunk));
      for (std::size_t at = 0; at + number * step <= chunk; at += number * step) put(number, chunks_.back().get() + at);
    }
    void* const found = free_[number];
    std::memcpy(&free_[number], found, sizeof(void*));
    return found;
  }
  void put(std::size_t number, void* piece) {
    std::memcpy(piece, &free_[number], sizeof(void*));
    free_[number] = piece;
  }
  void free(void* old, std::size_t size) {
    if (!old) return;
    if (size > largest)
      std::free(old);
    else
      put(class_of(size), old);
  }

  std::array<void*, largest / step + 1> free_ = {};
  std::vector<std::unique_ptr<std::byte[]>> chunks_;
};

// --- the present call ------------------------------------------------------------------------------------------------

struct Interpreter::Call {
  const Declared* declared = nullptr;
  const RuntimeValues* values = nullptr;
  std::span<double> memory;
  Pose* pose = nullptr;
  const Moment* now = nullptr;
  Budget budget;
  int steps_left = 0;
  bool is_out_of_memory = false;
  std::size_t vectors = 0, rotations = 0;  ///< used of the pools; only within a call

  static constexpr int steps_between = 1'000;  ///< checks of the budget
};

namespace {

using Call = Interpreter::Call;

// The stack of the state, from the bottom: what is called, and what it is given.
enum Slot { apply_slot = 1, begin_slot, pose_slot, now_slot, my_slot, kept_slot };

constexpr const char *vector_type = "vector", *rotation_type = "rotation";
constexpr int largest_pool = 4'096;

Call& call_of(lua_State* lua) { return **static_cast<Call**>(lua_getextraspace(lua)); }

/// A new piece of data of a type; within a call one of the pool, which the next call uses again.
template <class T>
T& push_pooled(lua_State* lua, const char* type, std::size_t& used) {
  Call& call = call_of(lua);
  if (call.now && used < largest_pool) {
    ++used;
    lua_rawgetp(lua, LUA_REGISTRYINDEX, type);
    if (lua_rawgeti(lua, -1, static_cast<lua_Integer>(used)) == LUA_TUSERDATA) {
      lua_remove(lua, -2);
      return *static_cast<T*>(lua_touserdata(lua, -1));
    }
    lua_pop(lua, 1);
    void* const made = lua_newuserdatauv(lua, sizeof(T), 0);
    luaL_setmetatable(lua, type);
    lua_pushvalue(lua, -1);
    lua_rawseti(lua, -3, static_cast<lua_Integer>(used));
    lua_remove(lua, -2);
    return *new (made) T;
  }
  void* const made = lua_newuserdatauv(lua, sizeof(T), 0);
  luaL_setmetatable(lua, type);
  return *new (made) T;
}

struct Three {
  double x, y, z;
};
struct Four {
  double x, y, z, w;
};

int push(lua_State* lua, const Vec3& v) {
  push_pooled<Three>(lua, vector_type, call_of(lua).vectors) = {v.x(), v.y(), v.z()};
  return 1;
}
int push(lua_State* lua, const Quat& q) {
  push_pooled<Four>(lua, rotation_type, call_of(lua).rotations) = {q.x(), q.y(), q.z(), q.w()};
  return 1;
}
int push(lua_State* lua, double number) { return lua_pushnumber(lua, number), 1; }

std::string described(lua_State* lua, int at) {
  if (luaL_testudata(lua, at, vector_type)) return "a vector";
  if (luaL_testudata(lua, at, rotation_type)) return "a rotation";
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
  const auto* three = static_cast<const Three*>(luaL_testudata(lua, at, vector_type));
  if (!three) fail(lua, std::string{of} + ": expected a vector, found " + described(lua, at));
  return {three->x, three->y, three->z};
}
Quat rotation_at(lua_State* lua, int at, const char* of) {
  const auto* four = static_cast<const Four*>(luaL_testudata(lua, at, rotation_type));
  if (!four) fail(lua, std::string{of} + ": expected a rotation, found " + described(lua, at));
  return {four->w, four->x, four->y, four->z};
}
bool is_vector(lua_State* lua, int at) { return luaL_testudata(lua, at, vector_type) != nullptr; }
std::string_view text_at(lua_State* lua, int at) {
  std::size_t size = 0;
  const char* const text = lua_type(lua, at) == LUA_TSTRING ? lua_tolstring(lua, at, &size) : nullptr;
  return text ? std::string_view{text, size} : std::string_view{};
}

// --- the words -------------------------------------------------------------------------------------------------------

template <double (*function)(double)>
int one(lua_State* lua) {
  return push(lua, function(number_at(lua, 1, "the argument")));
}
template <double (*function)(double, double)>
int two(lua_State* lua) {
  return push(lua, function(number_at(lua, 1, "the first argument"), number_at(lua, 2, "the second argument")));
}

double sine(double degrees) { return detail::sine_cosine_of_degrees(degrees).sine; }
double cosine(double degrees) { return detail::sine_cosine_of_degrees(degrees).cosine; }
double angle(double y, double x) { return detail::angle_of(y, x) * (180.0 / detail::pi); }
double root(double x) { return std::sqrt(x); }  // exact in IEEE 754, like the next two
double down(double x) { return std::floor(x); }
double size(double x) { return std::fabs(x); }
double power_of_two(double x) { return x < -1'022.0 ? 0.0 : x > 1'023.0 ? HUGE_VAL : detail::power_of_two(x); }

/// The logarithm to base 2 of x > 0: of the mantissa by the series of the inverse hyperbolic tangent.
double logarithm(double x) {
  int exponent = 0;
  double part = std::frexp(x, &exponent);  // 0.5 to 1
  if (part < 0.70710678118654752) {
    part *= 2.0;
    --exponent;
  }
  const double t = (part - 1.0) / (part + 1.0), z = t * t;
  double sum = 0.0;
  for (int n = 25; n >= 1; n -= 2) sum = sum * z + 1.0 / n;
  return exponent + 2.0 * t * sum * 1.4426950408889634;  // 1 / ln 2
}

double whole_power(double x, double times) {
  double result = 1.0;
  for (auto left = static_cast<unsigned>(times); left > 0; left >>= 1U, x *= x)
    if ((left & 1U) != 0) result *= x;
  return result;
}

double power(double x, double y) {
  if (y == std::floor(y) && std::fabs(y) <= 64.0) return y < 0.0 ? 1.0 / whole_power(x, -y) : whole_power(x, y);
  if (x == 0.0) return y > 0.0 ? 0.0 : HUGE_VAL;
  return x > 0.0 ? power_of_two(y * logarithm(x)) : std::nan("");
}

template <bool is_less>
int extreme(lua_State* lua) {
  double found = number_at(lua, 1, "the first argument");
  for (int i = 2; i <= lua_gettop(lua); ++i) {
    const double next = number_at(lua, i, "an argument");
    found = is_less ? std::min(found, next) : std::max(found, next);
  }
  return push(lua, found);
}

int clamped(lua_State* lua) {
  const double x = number_at(lua, 1, "the first argument"), low = number_at(lua, 2, "the lower end"),
               high = number_at(lua, 3, "the upper end");
  return push(lua, std::max(low, std::min(x, high)));
}

int mixed(lua_State* lua) {
  const double share = number_at(lua, 3, "the share");
  if (is_vector(lua, 1)) {
    const Vec3 from = vector_at(lua, 1, "the first argument");
    return push(lua, Vec3{from + (vector_at(lua, 2, "the second argument") - from) * share});
  }
  const double from = number_at(lua, 1, "the first argument");
  return push(lua, from + (number_at(lua, 2, "the second argument") - from) * share);
}

int new_vector(lua_State* lua) {
  return push(lua, Vec3{number_at(lua, 1, "x"), number_at(lua, 2, "y"), number_at(lua, 3, "z")});
}
int length(lua_State* lua) { return push(lua, vector_at(lua, 1, "the argument").norm()); }
int normalized(lua_State* lua) {
  const Vec3 v = vector_at(lua, 1, "the argument");
  const double length = v.norm();
  if (!(length > 0.0)) fail(lua, "the vector has no direction, as its length is 0");
  return push(lua, Vec3{v / length});
}
int dot(lua_State* lua) {
  return push(lua, vector_at(lua, 1, "the first argument").dot(vector_at(lua, 2, "the second argument")));
}
int cross(lua_State* lua) {
  return push(lua, Vec3{vector_at(lua, 1, "the first argument").cross(vector_at(lua, 2, "the second argument"))});
}
int new_rotation(lua_State* lua) {
  const Vec3 axis = vector_at(lua, 1, "the axis");
  const double length = axis.norm();
  if (!(length > 0.0)) fail(lua, "the axis has no direction, as its length is 0");
  const auto [sine, cosine] = detail::sine_cosine_of_degrees(0.5 * number_at(lua, 2, "the angle"));
  const Vec3 v = axis * (sine / length);
  return push(lua, Quat{cosine, v.x(), v.y(), v.z()});
}
int rotate(lua_State* lua) {
  const Quat q = rotation_at(lua, 1, "the rotation");
  const Vec3 v = vector_at(lua, 2, "the vector"), axis{q.x(), q.y(), q.z()}, aside = axis.cross(v) * 2.0;
  return push(lua, Vec3{v + aside * q.w() + axis.cross(aside)});
}

const Moment& moment_of(lua_State* lua) {
  const Moment* const now = call_of(lua).now;
  if (!now) fail(lua, "this is known only while the scene plays; use it in apply or begin");
  return *now;
}

int seeded(lua_State* lua) {
  const double count = number_at(lua, 1, "the argument");
  if (!(count >= 0.0 && count < 9e15)) fail(lua, "random: give a number from 0 to 9e15");
  const Moment& now = moment_of(lua);
  return push(lua, seeded_number(now.seed, static_cast<std::uint64_t>(count)));
}

/// The pose of an object that a field names, in the parent's space.
Pose pose_of_object(lua_State* lua) {
  const Moment& now = moment_of(lua);
  const auto& objects = call_of(lua).values->objects;
  const auto number = lua_islightuserdata(lua, 1) ? reinterpret_cast<std::uintptr_t>(lua_touserdata(lua, 1)) : 0;
  if (number == 0 || number > objects.size())
    fail(lua, "expected an object of a field, such as my.target; found " + described(lua, 1));
  try {
    return into(now.parent, now.world(objects[number - 1].object));
  } catch (const std::exception& error) {
    fail(lua, error.what());
  }
}
int where(lua_State* lua) { return push(lua, Vec3{pose_of_object(lua).position}); }
int pose_of(lua_State* lua) {
  const Pose pose = pose_of_object(lua);
  return push(lua, pose.position) + push(lua, pose.rotation);
}

int fail_word(lua_State* lua) { fail(lua, std::string{text_at(lua, 1)}); }
int type_word(lua_State* lua) {
  if (is_vector(lua, 1) || luaL_testudata(lua, 1, rotation_type))
    lua_pushstring(lua, is_vector(lua, 1) ? vector_type : rotation_type);
  else
    lua_pushstring(lua, luaL_typename(lua, 1));
  return 1;
}
/// The choices of a field, for its table.
int words_word(lua_State* lua) {
  if (!lua_istable(lua, 1))
    fail(lua, "words: expected a list, such as words{\"up\", \"down\"}; found " + described(lua, 1));
  lua_pushboolean(lua, 1);
  lua_setfield(lua, 1, "are words");
  lua_settop(lua, 1);
  return 1;
}

// --- vectors and rotations -------------------------------------------------------------------------------------------

int add(lua_State* lua) {
  return push(lua, Vec3{vector_at(lua, 1, "the left of +") + vector_at(lua, 2, "the right of +")});
}
int subtract(lua_State* lua) {
  return push(lua, Vec3{vector_at(lua, 1, "the left of -") - vector_at(lua, 2, "the right of -")});
}
int negate(lua_State* lua) { return push(lua, Vec3{-vector_at(lua, 1, "the vector")}); }
int scale(lua_State* lua) {
  const bool vector_first = is_vector(lua, 1);
  return push(lua, Vec3{vector_at(lua, vector_first ? 1 : 2, "a factor") *
                        number_at(lua, vector_first ? 2 : 1, "the other factor of a vector")});
}
int divide(lua_State* lua) {
  return push(lua, Vec3{vector_at(lua, 1, "the left of /") / number_at(lua, 2, "the right of /")});
}
/// Written out, so that every machine gives the same bits.
int compose_rotations(lua_State* lua) {
  const Quat a = rotation_at(lua, 1, "the left of *"), b = rotation_at(lua, 2, "the right of *");
  return push(lua, Quat{a.w() * b.w() - a.x() * b.x() - a.y() * b.y() - a.z() * b.z(),
                        a.w() * b.x() + a.x() * b.w() + a.y() * b.z() - a.z() * b.y(),
                        a.w() * b.y() + a.y() * b.w() + a.z() * b.x() - a.x() * b.z(),
                        a.w() * b.z() + a.z() * b.w() + a.x() * b.y() - a.y() * b.x()});
}
int part_of_vector(lua_State* lua) {
  const Vec3 v = vector_at(lua, 1, "the vector");
  const std::string_view key = text_at(lua, 2);
  if (key.size() != 1 || key[0] < 'x' || key[0] > 'z')
    fail(lua, "a vector has x, y and z, and no " + std::string{key.empty() ? "such part" : key});
  return push(lua, v[key[0] - 'x']);
}
int equal_vectors(lua_State* lua) {
  const auto *a = static_cast<const Three*>(luaL_testudata(lua, 1, vector_type)),
             *b = static_cast<const Three*>(luaL_testudata(lua, 2, vector_type));
  lua_pushboolean(lua, a && b && a->x == b->x && a->y == b->y && a->z == b->z);
  return 1;
}
int refuse_setting(lua_State* lua) { fail(lua, "this cannot be changed; make a new one, such as vector(x, y, z)"); }

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

// --- setting up ------------------------------------------------------------------------------------------------------

/// As `fail`, from a hook, which has no place of its own.
[[noreturn]] void fail_in_hook(lua_State* lua, lua_Debug* there, const std::string& text) {
  lua_getinfo(lua, "Sl", there);
  lua_pushfstring(lua, "%s:%d: %s", there->short_src, there->currentline, text.c_str());
  lua_error(lua);
  std::abort();  // unreachable
}

void check_budget(lua_State* lua, lua_Debug* there) {
  Call& call = call_of(lua);
  if (call.is_out_of_memory)
    fail_in_hook(lua, there,
                 "it needed more than " + std::to_string(call.budget.bytes / 1'048'576) +
                     " MB of memory; keep tables and texts small");
  call.steps_left -= Call::steps_between;
  if (call.steps_left >= 0) return;
  fail_in_hook(lua, there, "it took more than " + std::to_string(call.budget.steps) + " steps; end the loop earlier");
}

int next_item(lua_State* lua) {
  const lua_Integer i = lua_tointeger(lua, 2) + 1;
  lua_pushinteger(lua, i);
  return lua_rawgeti(lua, 1, i) == LUA_TNIL ? 1 : 2;
}
int each_item(lua_State* lua) {
  if (!lua_istable(lua, 1)) fail(lua, "ipairs: expected a table, found " + described(lua, 1));
  lua_pushcfunction(lua, next_item);
  lua_pushvalue(lua, 1);
  lua_pushinteger(lua, 0);
  return 3;
}

void add_type(lua_State* lua, const char* name, std::initializer_list<luaL_Reg> functions) {
  luaL_newmetatable(lua, name);
  for (const luaL_Reg& each : functions) {
    lua_pushcfunction(lua, each.func);
    lua_setfield(lua, -2, each.name);
  }
  lua_pop(lua, 1);
}

void add_argument(lua_State* lua, const char* type, lua_CFunction read, lua_CFunction write) {
  add_type(lua, type, {{"__index", read}, {"__newindex", write}});
  lua_newuserdatauv(lua, 1, 0);
  luaL_setmetatable(lua, type);
}

/// The words for objects and lists of words in `fields`.
const char object_word = 0;

void add_words(lua_State* lua) {
  constexpr luaL_Reg functions[] = {
      {"abs", one<size>},     {"sqrt", one<root>},         {"floor", one<down>},       {"sin", one<sine>},
      {"cos", one<cosine>},   {"exp2", one<power_of_two>}, {"atan2", two<angle>},      {"pow", two<power>},
      {"min", extreme<true>}, {"max", extreme<false>},     {"clamp", clamped},         {"mix", mixed},
      {"vector", new_vector}, {"length", length},          {"normalized", normalized}, {"dot", dot},
      {"cross", cross},       {"rotation", new_rotation},  {"rotate", rotate},         {"random", seeded},
      {"where", where},       {"pose_of", pose_of},        {"fail", fail_word},        {"type", type_word},
      {"words", words_word},  {"ipairs", each_item}};
  for (const luaL_Reg& each : functions) lua_register(lua, each.name, each.func);
  lua_pushnumber(lua, detail::pi);
  lua_setglobal(lua, "pi");
  lua_pushlightuserdata(lua, const_cast<char*>(&object_word));
  lua_setglobal(lua, "object");

  add_type(lua, vector_type,
           {{"__add", add},
            {"__sub", subtract},
            {"__unm", negate},
            {"__mul", scale},
            {"__div", divide},
            {"__eq", equal_vectors},
            {"__index", part_of_vector},
            {"__newindex", refuse_setting}});
  add_type(lua, rotation_type, {{"__mul", compose_rotations}, {"__newindex", refuse_setting}});
  for (const char* const type : {vector_type, rotation_type}) {
    lua_newtable(lua);
    lua_rawsetp(lua, LUA_REGISTRYINDEX, type);
  }
}

/// The place in an error of Lua, "circling.lua:12: text", and the text.
Diagnostic diagnostic_of(std::string_view message, const std::string& name) {
  Diagnostic found{{1, 1}, std::string{message}};
  if (!message.starts_with(name + ':')) return found;
  message.remove_prefix(name.size() + 1);
  int line = 0;
  std::size_t digits = 0;
  for (; digits < message.size() && message[digits] >= '0' && message[digits] <= '9'; ++digits)
    line = line * 10 + (message[digits] - '0');
  if (digits == 0 || !message.substr(digits).starts_with(": ")) return found;
  return {{line, 1}, std::string{message.substr(digits + 2)} + '.'};
}

// --- declarations ----------------------------------------------------------------------------------------------------

/// Reads what a script says of itself from its global variables.
class Declarations {
 public:
  Declarations(lua_State* lua, const std::vector<TextPlace>& places, TextPlace memory)
      : lua_{lua}, places_{places}, memory_place_{memory} {}

  Declared read() {
    Declared declared;
    if (lua_getglobal(lua_, "about") == LUA_TSTRING)
      declared.about = text_at(lua_, -1);
    else if (!lua_isnil(lua_, -1))
      throw Diagnostic{{1, 1}, "about: expected a text, found " + described(lua_, -1) + '.'};
    lua_pop(lua_, 1);
    read_fields(declared.fields);
    read_memory(declared.memory);
    return declared;
  }

 private:
  void read_fields(std::vector<RuntimeField>& fields) {
    const int type = lua_getglobal(lua_, "fields");
    if (type != LUA_TNIL && type != LUA_TTABLE)
      throw Diagnostic{{1, 1},
                       "fields: expected a list, such as { {\"radius\", 8} }; found " + described(lua_, -1) + '.'};
    for (lua_Integer i = 1; type == LUA_TTABLE && lua_rawgeti(lua_, -1, i) != LUA_TNIL; ++i) {
      place_ =
          static_cast<std::size_t>(i) <= places_.size() ? places_[static_cast<std::size_t>(i - 1)] : TextPlace{1, 1};
      fields.push_back(read_field());
      lua_pop(lua_, 1);
    }
    lua_settop(lua_, 0);
  }

  [[noreturn]] void refuse(const std::string& text) const { throw Diagnostic{place_, text}; }

  RuntimeField read_field() {
    if (!lua_istable(lua_, -1))
      refuse("fields: expected an entry such as {\"radius\", 8}; found " + described(lua_, -1) + '.');
    RuntimeField field;
    lua_rawgeti(lua_, -1, 1);
    field.name = text_at(lua_, -1);
    if (field.name.empty()) refuse("fields: an entry begins with its name; found " + described(lua_, -1) + '.');
    lua_pop(lua_, 1);
    if (const auto wrong = wrong_with_name(field.name, "a field")) refuse("fields: " + *wrong);
    lua_rawgeti(lua_, -1, 2);
    read_default(field);
    lua_pop(lua_, 1);
    read_options(field);
    return field;
  }

  void read_default(RuntimeField& field) {
    using Type = RuntimeField::Type;
    if (lua_type(lua_, -1) == LUA_TNUMBER) {
      field.fallback[0] = lua_tonumber(lua_, -1);
    } else if (lua_isboolean(lua_, -1)) {
      field.type = Type::boolean;
      field.fallback[0] = lua_toboolean(lua_, -1);
    } else if (const auto* three = static_cast<const Three*>(luaL_testudata(lua_, -1, vector_type))) {
      field.type = Type::vector;
      field.fallback = {three->x, three->y, three->z};
    } else if (lua_touserdata(lua_, -1) == &object_word) {
      field.type = Type::object;
    } else if (lua_istable(lua_, -1)) {
      field.type = Type::word;
      for (lua_Integer i = 1; lua_rawgeti(lua_, -1, i) != LUA_TNIL; ++i) {
        field.words.emplace_back(text_at(lua_, -1));
        lua_pop(lua_, 1);
      }
      lua_pop(lua_, 1);
    } else {
      refuse("fields: " + field.name + ": its default is " + described(lua_, -1) +
             "; give a number, true or false, a vector, words{...}, or object.");
    }
  }

  void read_options(RuntimeField& field) {
    for (lua_pushnil(lua_); lua_next(lua_, -2) != 0; lua_pop(lua_, 1)) {
      if (lua_type(lua_, -2) == LUA_TNUMBER && lua_tointeger(lua_, -2) <= 2) continue;
      const std::string_view key = text_at(lua_, -2);
      if (key == "unit" || key == "help") {
        (key == "unit" ? field.unit : field.help) = text_at(lua_, -1);
      } else if (key == "range" || key == "slider") {
        const auto [low, high] = read_range(field.name + ": " + std::string{key});
        if (key == "range") {
          field.low = low;
          field.high = high;
        } else {
          field.slider = Slider{low, high};
        }
      } else {
        const std::vector<std::string_view> known{"help", "range", "slider", "unit"};
        refuse("fields: " + field.name + ": unknown key " + in_quotes(key) + suggestion(key, known));
      }
    }
  }

  std::pair<double, double> read_range(const std::string& of) {
    double ends[2] = {};
    for (lua_Integer i = 1; i <= 2; ++i) {
      const bool is_number = lua_istable(lua_, -1) && lua_rawgeti(lua_, -1, i) == LUA_TNUMBER;
      if (!is_number) refuse("fields: " + of + ": expected two numbers, {0, 10}.");
      ends[i - 1] = lua_tonumber(lua_, -1);
      lua_pop(lua_, 1);
    }
    return {ends[0], ends[1]};
  }

  /// In the order of names, as the order of a table differs from run to run.
  void read_memory(std::vector<Remembered>& memory) {
    place_ = memory_place_;
    const int type = lua_getglobal(lua_, "memory");
    if (type != LUA_TNIL && type != LUA_TTABLE)
      refuse("memory: expected a table, such as { height = 0 }; found " + described(lua_, -1) + '.');
    if (type == LUA_TTABLE)
      for (lua_pushnil(lua_); lua_next(lua_, -2) != 0; lua_pop(lua_, 1)) {
        Remembered item{std::string{text_at(lua_, -2)}};
        if (item.name.empty() || wrong_with_name(item.name, "memory")) refuse("memory: give each number a name.");
        if (lua_type(lua_, -1) == LUA_TNUMBER) {
          item.first[0] = lua_tonumber(lua_, -1);
        } else if (const auto* three = static_cast<const Three*>(luaL_testudata(lua_, -1, vector_type))) {
          item.is_vector = true;
          std::copy_n(&three->x, 3, item.first);
        } else {
          refuse("memory: " + item.name + " is " + described(lua_, -1) + "; a script remembers numbers and vectors.");
        }
        memory.push_back(std::move(item));
      }
    std::sort(memory.begin(), memory.end(), [](const Remembered& a, const Remembered& b) { return a.name < b.name; });
    lua_settop(lua_, 0);
  }

  lua_State* lua_;
  const std::vector<TextPlace>& places_;
  TextPlace memory_place_, place_;
};

}  // namespace

// --- loading ---------------------------------------------------------------------------------------------------------

void Interpreter::Close::operator()(lua_State* state) const { lua_close(state); }

Interpreter::Interpreter(std::string_view text, const std::string& name, const Outline& outline)
    : memory_{std::make_unique<Memory>()}, call_{std::make_unique<Call>()} {
  const PlainLocale plain;
  lua_.reset(lua_newstate(
      [](void* memory, void* old, std::size_t old_size, std::size_t size) {
        auto& of = *static_cast<Memory*>(memory);
        void* const made = of.change(old, old_size, size);
        if (of.is_over && of.call) of.call->is_out_of_memory = true;
        return made;
      },
      memory_.get()));
  if (!lua_) throw std::bad_alloc{};
  lua_State* const lua = lua_.get();
  *static_cast<Call**>(lua_getextraspace(lua)) = call_.get();
  call_->declared = &declared_;
  memory_->call = call_.get();
  memory_->on_limit = check_budget;

  const auto check = [&](int status) {
    if (status == LUA_OK) return;
    const std::string message{text_at(lua, -1)};
    throw diagnostic_of(message.empty() ? "it failed with something that is no text" : message, name);
  };
  add_words(lua);
  begin_budget();
  check(luaL_loadbufferx(lua, text.data(), text.size(), ('@' + name).c_str(), "t"));
  check(lua_pcall(lua, 0, 0, 0));
  lua_settop(lua, 0);
  declared_ = Declarations{lua, outline.fields, outline.memory}.read();

  lua_getglobal(lua, "apply");
  lua_getglobal(lua, "begin");
  has_begin_ = lua_isfunction(lua, begin_slot);
  add_argument(lua, "pose", part_of_pose, set_part_of_pose);
  add_argument(lua, "now", part_of_now, refuse_setting);
  add_argument(lua, "my", field, refuse_setting);
  add_argument(lua, "kept", part_of_kept, set_part_of_kept);
  lua_gc(lua, LUA_GCCOLLECT, 0);
}

Interpreter::~Interpreter() = default;

// --- calling ---------------------------------------------------------------------------------------------------------

void Interpreter::begin_budget() {
  call_->steps_left = call_->budget.steps;
  call_->vectors = call_->rotations = 0;
  call_->is_out_of_memory = memory_->is_over = false;
  memory_->allowed = memory_->used + call_->budget.bytes;
  memory_->lua = lua_.get();
  lua_sethook(lua_.get(), check_budget, LUA_MASKCOUNT, Call::steps_between);
}

void Interpreter::call(bool is_begin, const RuntimeValues& values, std::span<double> memory, Pose& pose,
                       const Moment& now) {
  const PlainLocale plain;
  lua_State* const lua = lua_.get();
  call_->values = &values;
  call_->memory = memory;
  call_->pose = &pose;
  call_->now = &now;
  begin_budget();
  lua_pushvalue(lua, is_begin ? begin_slot : apply_slot);
  for (const int argument : {pose_slot, now_slot, my_slot, kept_slot}) lua_pushvalue(lua, argument);
  const int status = lua_pcall(lua, 4, 0, 0);
  call_->now = nullptr;
  if (status == LUA_OK) return;
  std::string message{text_at(lua, -1)};
  if (status == LUA_ERRMEM) message = "it needed far more memory than it may have";
  lua_settop(lua, kept_slot);
  throw Error{message.empty() ? "it failed with something that is no text" : message};
}

}  // namespace hushed::script
