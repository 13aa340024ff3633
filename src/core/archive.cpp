// SPDX-License-Identifier: MIT
#include <hushed/archive.hpp>

#include <algorithm>
#include <bit>
#include <cstring>
#include <utility>

#include "archived_time.hpp"

namespace hushed {

namespace {

constexpr int deepest = 32;  ///< of lists and tables in each other

/// Bit for bit: 0 differs from -0, and a NaN equals itself.
template <std::size_t count>
bool are_equal(const double* a, const double* b) {
  std::uint64_t differences = 0;
  for (std::size_t i = 0; i < count; ++i)
    differences |= std::bit_cast<std::uint64_t>(a[i]) ^ std::bit_cast<std::uint64_t>(b[i]);
  return differences == 0;
}

constexpr double zeros[3] = {0.0, 0.0, 0.0}, ones[3] = {1.0, 1.0, 1.0}, no_rotation[4] = {0.0, 0.0, 0.0, 1.0};

}  // namespace

// Layout: the number of words of codes (4 bytes, the lowest first), the words, the data.

Archive::Archive(std::span<const std::byte> bytes) : is_reading_{true}, in_word_{codes_in_word} {
  if (bytes.size() < 4) refuse();
  std::size_t words = 0;
  for (std::size_t i = 0; i < 4; ++i) words |= std::to_integer<std::size_t>(bytes[i]) << (8 * i);
  if (words * sizeof word_ > bytes.size() - 4) refuse();
  codes_left_ = bytes.subspan(4, words * sizeof word_);
  data_left_ = bytes.subspan(4 + words * sizeof word_);
}

std::vector<std::byte> Archive::bytes() const {
  std::vector<std::byte> all;
  append_to(all);
  return all;
}

void Archive::append_to(std::vector<std::byte>& to) const {
  const std::size_t words = codes_.size() + (in_word_ > 0 ? 1 : 0);
  to.reserve(to.size() + 4 + words * sizeof word_ + used_);
  for (std::size_t i = 0; i < 4; ++i) to.push_back(static_cast<std::byte>(words >> (8 * i)));
  const auto add = [&to](std::span<const std::byte> bytes) { to.insert(to.end(), bytes.begin(), bytes.end()); };
  add(std::as_bytes(std::span{codes_}));
  if (in_word_ > 0) add(std::as_bytes(std::span{&word_, 1}));
  add({data_.get(), used_});
}

void Archive::end() const {
  if (!data_left_.empty() || !codes_left_.empty()) refuse();
}

void Archive::refuse() { detail::refuse_damaged_bytes(); }

void Archive::next_word() {
  if (is_reading_) {
    if (codes_left_.empty()) refuse();
    std::memcpy(&word_, codes_left_.data(), sizeof word_);
    codes_left_ = codes_left_.subspan(sizeof word_);
  } else {
    codes_.push_back(std::exchange(word_, 0));
  }
  in_word_ = 0;
}

void Archive::make_room(std::size_t size) {
  room_ = std::max(2 * room_, used_ + size + 1024);
  auto larger = std::make_unique_for_overwrite<std::byte[]>(room_);
  if (used_ > 0) std::memcpy(larger.get(), data_.get(), used_);
  data_ = std::move(larger);
}

/// All machines that the library runs on store the lowest byte first.
static_assert(std::endian::native == std::endian::little);

/// Seven bits to a byte, the lowest first.
void Archive::large(std::uint64_t& number) {
  if (!is_reading_) {
    for (std::uint64_t rest = number;; rest >>= 7) {
      const auto next = static_cast<std::byte>((rest & 127U) | (rest > 127 ? 128U : 0U));
      put(&next, 1);
      if (rest <= 127) return;
    }
  }
  number = 0;
  for (unsigned shift = 0; shift < 64; shift += 7) {
    std::byte next{};
    take(&next, 1);
    number |= (std::to_integer<std::uint64_t>(next) & 127U) << shift;
    if ((std::to_integer<unsigned>(next) & 128U) == 0) return;
  }
  refuse();
}

std::size_t Archive::count(std::size_t items) {
  std::uint64_t number = items;
  whole(number);
  // Each item takes two bits at least.
  if (is_reading_ && number > data_left_.size() + 4 * codes_left_.size() + codes_in_word) refuse();
  return static_cast<std::size_t>(number);
}

void Archive::value(std::string& text) {
  const std::size_t size = count(text.size());
  if (is_reading_ && size > data_left_.size()) refuse();
  text.resize(size);
  raw(text.data(), size);
}

void Archive::value(std::string_view& text) {
  std::string copy{text};
  value(copy);
  if (!is_reading_) return;
  if (!copy.empty() && !intern) refuse();
  text = copy.empty() ? std::string_view{} : intern(copy);
}

/// Writes the code of a vector. Code 3 is followed by the codes of its numbers, and by those that have no shorter form.
void Archive::put_vector(const Vec3& v) {
  const auto is = [&](const double* other) { return are_equal<3>(v.data(), other); };
  unsigned codes = is(zeros) ? 0U : is(ones) ? 1U : is(last_vector_.data()) ? 2U : 3U, count = 1;
  double whole[3];
  std::size_t size = 0;
  if (codes == 3U) {
    for (const double number : v) {
      const unsigned next = code_of(number);
      codes |= next << (2 * count++);
      if (next == 3U) whole[size++] = last_number_ = number;
    }
    last_vector_ = v;
  }
  if (in_word_ + count < codes_in_word) {
    word_ |= std::uint64_t{codes} << (2 * in_word_);
    in_word_ += count;
  } else {
    for (; count > 0; --count, codes >>= 2) code(codes & 3U);
  }
  put(whole, size * sizeof(double));
}

void Archive::value(Vec3& v) {
  if (!is_reading_) return put_vector(v);
  switch (code(0)) {
    case 0: v = Vec3::Zero(); break;
    case 1: v = Vec3::Ones(); break;
    case 2: v = last_vector_; break;
    default: (*this)(v.x(), v.y(), v.z()); last_vector_ = v;
  }
}

void Archive::value(Quat& q) {
  const auto is = [&](const double* other) { return are_equal<4>(q.coeffs().data(), other); };
  switch (code(is_reading_ ? 0U : is(no_rotation) ? 0U : is(last_rotation_.coeffs().data()) ? 2U : 3U)) {
    case 0: q = Quat::Identity(); break;
    case 2: q = last_rotation_; break;
    case 3:
      (*this)(q.x(), q.y(), q.z(), q.w());
      last_rotation_ = q;
      break;
    default: refuse();
  }
}

void Archive::value(Object& object) {
  (*this)(object.index, object.generation);
  if (is_reading_) object.scene = object.generation == 0 ? 0 : scene;
}

void Archive::value(AnyBehaviour& behaviour) {
  (*this)(behaviour.index, behaviour.generation);
  if (is_reading_) behaviour.scene = behaviour.generation == 0 ? 0 : scene;
}

void Archive::tree(Value& value, int depth) {
  if (depth > deepest) refuse();
  const auto content = [&]<class T>(T) {
    T copy{};
    if (const T* const present = value.as<T>()) copy = *present;
    if constexpr (std::is_same_v<T, Value::List>) {
      const std::size_t size = count(copy.size());
      if (is_reading_) copy.assign(size, Value{});
      for (Value& each : copy) tree(each, depth + 1);
    } else if constexpr (std::is_same_v<T, Value::Table>) {
      const std::size_t size = count(copy.size());
      if (is_reading_) copy.resize(size);
      for (Value::Entry& each : copy) {
        (*this)(each.key);
        tree(each.value, depth + 1);
      }
    } else {
      (*this)(copy);
    }
    if (is_reading_) value = Value{std::move(copy)};
  };
  unsigned kind = value.as<bool>()           ? 1U
                  : value.as<std::int64_t>() ? 2U
                  : value.as<double>()       ? 3U
                  : value.as<std::string>()  ? 4U
                  : value.as<Value::List>()  ? 5U
                  : value.as<Value::Table>() ? 6U
                                             : 0U;
  (*this)(kind);
  switch (kind) {
    case 0:
      if (is_reading_) value = Value{};
      break;
    case 1: content(bool{}); break;
    case 2: content(std::int64_t{}); break;
    case 3: content(double{}); break;
    case 4: content(std::string{}); break;
    case 5: content(Value::List{}); break;
    case 6: content(Value::Table{}); break;
    default: refuse();
  }
}

}  // namespace hushed
