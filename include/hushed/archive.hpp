// SPDX-License-Identifier: MIT
#pragma once

#include <bit>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/handle.hpp>
#include <hushed/pose.hpp>
#include <hushed/time.hpp>
#include <hushed/value.hpp>

namespace hushed HUSHED_API {

/// Writes values to bytes, or reads them back, by the same calls. So one function does both:
///
///     void archive(Archive& archive) { archive(height, velocity, since); }
///
/// Numbers, times, vectors and rotations that are 0, 1 or equal to the one before take two bits. Bytes do not depend on
/// the machine.
class Archive {
 public:
  /// Writes.
  Archive() = default;
  /// Reads what an archive has written. Throws `BadValue` where that cannot be.
  explicit Archive(std::span<const std::byte> bytes);

  bool is_reading() const { return is_reading_; }
  /// What has been written.
  std::vector<std::byte> bytes() const;
  /// Adds what has been written to `to`.
  void append_to(std::vector<std::byte>& to) const;
  /// Throws `BadValue` unless everything has been read.
  void end() const;

  /// Writes or reads the values, one after another. Reading throws `BadValue` where the bytes end or are not what was
  /// written.
  template <class... T>
  Archive& operator()(T&... values) {
    (value(values), ...);
    return *this;
  }
  /// The number of items of a list. Reading throws `BadValue` where the remaining bytes cannot hold so many.
  std::size_t count(std::size_t items);
  /// Bytes as they are, of a type without pointers.
  void raw(void* data, std::size_t size) { is_reading_ ? take(data, size) : put(data, size); }

  std::uint32_t scene = 0;  ///< that handles which are read belong to
  /// Gives text that is read a place where it stays. Empty: such text cannot be read.
  std::function<std::string_view(std::string_view)> intern = {};

 private:
  void value(double& number) {
    switch (code(is_reading_ ? 0U : code_of(number))) {
      case 0: number = 0.0; break;
      case 1: number = 1.0; break;
      case 2: number = last_number_; break;
      default: raw(&number, sizeof number); last_number_ = number;
    }
  }
  void value(bool& is) { is = code(is ? 1U : 0U) != 0; }
  void value(Time& time) {
    switch (code(is_reading_ ? 0U : time == Time{} ? 0U : time == last_time_ ? 1U : 3U)) {
      case 0: time = {}; break;
      case 1: time = last_time_; break;
      default: {
        Time::rep count = time.count();
        raw(&count, sizeof count);
        last_time_ = time = Time{count};
      }
    }
  }
  void value(std::string& text);
  void value(std::string_view& text);
  void value(Value& value) { tree(value, 0); }
  void value(Object& object);
  void value(AnyBehaviour& behaviour);
  void value(Vec3& v);
  void value(Quat& q);
  void value(Pose& pose) { (*this)(pose.position, pose.rotation, pose.scale); }
  template <class T>
  requires(std::is_integral_v<T> && !std::is_same_v<T, bool>) void value(T& number) {
    std::uint64_t bits = static_cast<std::uint64_t>(static_cast<std::int64_t>(number));
    if constexpr (std::is_unsigned_v<T>) bits = number;
    whole(bits);
    number = static_cast<T>(bits);
  }
  template <class T>
  requires std::is_enum_v<T>
  void value(T& word) {
    auto number = static_cast<std::uint64_t>(word);
    whole(number);
    word = static_cast<T>(number);
  }
  template <class T>
  void value(std::optional<T>& item) {
    bool has = item.has_value();
    value(has);
    if (is_reading_) item.reset();
    if (is_reading_ && has) item.emplace();
    if (has) (*this)(*item);
  }
  template <class T>
  void value(std::vector<T>& list) {
    const std::size_t size = count(list.size());
    if (is_reading_) list.assign(size, T{});
    for (T& item : list) (*this)(item);
  }
  template <class T>
  requires requires(T& item, Archive& self) { item.archive(self); }
  void value(T& item) { item.archive(*this); }

  void whole(std::uint64_t& number) {
    const unsigned kind = code(number < 2 ? static_cast<unsigned>(number) : 3U);
    if (kind < 2)
      number = kind;
    else
      large(number);
  }
  void large(std::uint64_t& number);
  void put_vector(const Vec3& v);
  void tree(Value& value, int depth);
  [[noreturn]] static void refuse();
  /// The code of a number: 3 where it is written as it is.
  unsigned code_of(double number) const {
    const auto is = [&](double other) {
      return std::bit_cast<std::uint64_t>(number) == std::bit_cast<std::uint64_t>(other);
    };
    return is(0.0) ? 0U : is(1.0) ? 1U : is(last_number_) ? 2U : 3U;
  }
  /// Two bits.
  unsigned code(unsigned code) {
    if (is_reading_) {
      if (in_word_ == codes_in_word) next_word();
      return static_cast<unsigned>(word_ >> (2 * in_word_++)) & 3U;
    }
    word_ |= std::uint64_t{code} << (2 * in_word_);
    if (++in_word_ == codes_in_word) next_word();
    return code;
  }
  /// Writes the present word of codes, which is full, or reads the next one.
  void next_word();
  void put(const void* data, std::size_t size) {
    if (size > room_ - used_) make_room(size);
    if (size > 0) std::memcpy(data_.get() + used_, data, size);
    used_ += size;
  }
  void make_room(std::size_t size);
  void take(void* data, std::size_t size) {
    if (size > data_left_.size()) refuse();
    if (size > 0) std::memcpy(data, data_left_.data(), size);
    data_left_ = data_left_.subspan(size);
  }

  static constexpr unsigned codes_in_word = 32;

  bool is_reading_ = false;
  std::vector<std::uint64_t> codes_;                   ///< written: 32 to a word
  std::unique_ptr<std::byte[]> data_;                  ///< written, and room for more
  std::size_t room_ = 0, used_ = 0;                    ///< of `data_`: its size, and how much is written
  std::span<const std::byte> codes_left_, data_left_;  ///< read
  std::uint64_t word_ = 0;                             ///< of codes: the present one
  unsigned in_word_ = 0;                               ///< the number of codes that were written to it or read from it
  double last_number_ = 0.0;
  Time last_time_ = {};
  Vec3 last_vector_ = {0.0, 0.0, 0.0};
  Quat last_rotation_ = {1.0, 0.0, 0.0, 0.0};
};

}  // namespace hushed
