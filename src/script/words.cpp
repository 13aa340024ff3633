// SPDX-License-Identifier: MIT
#include "words.hpp"

#include <algorithm>
#include <cmath>

#include <hushed/detail/constants.hpp>
#include <hushed/seeded.hpp>

#include "call.hpp"
#include "lanes/exponential.hpp"
#include "lanes/trigonometry.hpp"
#include "lua_values.hpp"

namespace hushed::script {

const char object_word = 0, tagged_word = 0;

namespace {

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
  const auto object = object_at(lua, 1);
  if (!object) fail(lua, "expected an object of a field, such as my.target; found " + described(lua, 1));
  try {
    return into(now.parent, now.query->world_of(*object, now.behaviour));
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
  if (is_vector(lua, 1) || data_at<Rotation>(lua, 1))
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
  const auto *a = data_at<Vector>(lua, 1), *b = data_at<Vector>(lua, 2);
  lua_pushboolean(lua, a && b && a->x == b->x && a->y == b->y && a->z == b->z);
  return 1;
}

// --- objects with a tag ----------------------------------------------------------------------------------------------

/// The visible objects with the tag of a field, without the behaviour's own, in the order of their names.
const std::vector<Object>& members_at(lua_State* lua, int at) {
  const auto* list = data_at<List>(lua, at);
  if (!list) fail(lua, "expected the objects with a tag, such as my.gulls; found " + described(lua, at));
  const Moment& now = moment_of(lua);
  Call& call = call_of(lua);
  Call::Members& members = call.members[list->number];
  if (members.are_known) return members.objects;
  members.are_known = true;
  members.objects.clear();
  const auto all = call.values->tagged[list->number].members();
  members.objects.reserve(all.size());
  for (const Object object : all)
    if (object != now.owner && now.query->is_there(object)) members.objects.push_back(object);
  return members.objects;
}

int push_member(lua_State* lua, const std::vector<Object>& members, lua_Integer i) {
  if (i < 1 || i > static_cast<lua_Integer>(members.size())) return lua_pushnil(lua), 1;
  return push(lua, members[static_cast<std::size_t>(i - 1)]);
}

int member(lua_State* lua) {
  if (lua_isinteger(lua, 2) == 0) fail(lua, "the objects with a tag are counted from 1; found " + described(lua, 2));
  return push_member(lua, members_at(lua, 1), lua_tointeger(lua, 2));
}
int count_members(lua_State* lua) {
  lua_pushinteger(lua, static_cast<lua_Integer>(members_at(lua, 1).size()));
  return 1;
}

int next_item(lua_State* lua) {
  const lua_Integer i = lua_tointeger(lua, 2) + 1;
  lua_pushinteger(lua, i);
  if (data_at<List>(lua, 1))
    push_member(lua, members_at(lua, 1), i);
  else
    lua_rawgeti(lua, 1, i);
  return lua_isnil(lua, -1) ? 1 : 2;
}
int each_item(lua_State* lua) {
  if (!lua_istable(lua, 1) && !data_at<List>(lua, 1))
    fail(lua, "ipairs: expected a table, or the objects with a tag; found " + described(lua, 1));
  lua_pushcfunction(lua, next_item);
  lua_pushvalue(lua, 1);
  lua_pushinteger(lua, 0);
  return 3;
}

}  // namespace

void add_words(lua_State* lua) {
  constexpr luaL_Reg functions[] = {
      {"abs", one<size>},     {"sqrt", one<root>},         {"floor", one<down>},       {"sin", one<sine>},
      {"cos", one<cosine>},   {"exp2", one<power_of_two>}, {"atan2", two<angle>},      {"pow", two<power>},
      {"min", extreme<true>}, {"max", extreme<false>},     {"clamp", clamped},         {"mix", mixed},
      {"vector", new_vector}, {"length", length},          {"normalized", normalized}, {"dot", dot},
      {"cross", cross},       {"rotation", new_rotation},  {"rotate", rotate},         {"random", seeded},
      {"where", where},       {"pose_of", pose_of},        {"fail", fail_word},        {"type", type_word},
      {"words", words_word},  {"ipairs", each_item}};
  lua_pushglobaltable(lua);
  set_functions(lua, functions);
  lua_pop(lua, 1);
  lua_pushnumber(lua, detail::pi);
  lua_setglobal(lua, "pi");
  lua_pushlightuserdata(lua, const_cast<char*>(&object_word));
  lua_setglobal(lua, "object");
  lua_pushlightuserdata(lua, const_cast<char*>(&tagged_word));
  lua_setglobal(lua, "tagged");

  add_type(lua, vector_type,
           {{"__add", add},
            {"__sub", subtract},
            {"__unm", negate},
            {"__mul", scale},
            {"__div", divide},
            {"__eq", equal_vectors},
            {"__index", part_of_vector},
            {"__newindex", refuse_setting}});
  add_type(lua, list_type, {{"__index", member}, {"__len", count_members}, {"__newindex", refuse_setting}});
  add_type(lua, rotation_type, {{"__mul", compose_rotations}, {"__newindex", refuse_setting}});
}

}  // namespace hushed::script
