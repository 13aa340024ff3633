// SPDX-License-Identifier: MIT
#include <algorithm>
#include <utility>

#include <hushed/name.hpp>

#include "declared.hpp"
#include "lua_values.hpp"
#include "words.hpp"

namespace hushed::script {

namespace {

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
    } else if (const auto* three = data_at<Vector>(lua_, -1)) {
      field.type = Type::vector;
      field.fallback = {three->x, three->y, three->z};
    } else if (lua_touserdata(lua_, -1) == &object_word) {
      field.type = Type::object;
    } else if (lua_touserdata(lua_, -1) == &tagged_word) {
      field.type = Type::tagged;
    } else if (lua_istable(lua_, -1)) {
      field.type = Type::word;
      for (lua_Integer i = 1; lua_rawgeti(lua_, -1, i) != LUA_TNIL; ++i) {
        field.words.emplace_back(text_at(lua_, -1));
        lua_pop(lua_, 1);
      }
      lua_pop(lua_, 1);
    } else {
      refuse("fields: " + field.name + ": its default is " + described(lua_, -1) +
             "; give a number, true or false, a vector, words{...}, object, or tagged.");
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
        } else if (const auto* three = data_at<Vector>(lua_, -1)) {
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

Declared read_declarations(lua_State* lua, const Outline& outline) {
  return Declarations{lua, outline.fields, outline.memory}.read();
}

}  // namespace hushed::script
