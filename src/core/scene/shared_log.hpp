// SPDX-License-Identifier: MIT
#pragma once

// A list that only grows. Copies share all but its last few items, so that a snapshot of a long one costs little.

#include <cstddef>
#include <memory>
#include <utility>
#include <vector>

namespace hushed::detail {

template <class T>
class SharedLog {
 public:
  SharedLog() = default;
  SharedLog(const SharedLog& other) : full_{other.full_}, last_{std::make_shared<Chunk>(*other.last_)} {}
  SharedLog(SharedLog&&) noexcept = default;
  SharedLog& operator=(SharedLog other) noexcept {
    full_.swap(other.full_);
    last_.swap(other.last_);
    spare_.swap(other.spare_);
    return *this;
  }
  ~SharedLog() = default;

  std::size_t size() const { return full_.size() * chunk_size + last_->size(); }
  const T& operator[](std::size_t i) const {
    const std::size_t chunk = i / chunk_size;
    return (chunk < full_.size() ? *full_[chunk] : *last_)[i % chunk_size];
  }
  /// Makes the next `count` calls of `push_back` allocate nothing.
  void reserve(std::size_t count) {
    last_->reserve(chunk_size);
    const std::size_t chunks = (last_->size() + count) / chunk_size;
    if (full_.size() + chunks > full_.capacity()) full_.reserve(2 * (full_.size() + chunks));
    while (spare_.size() < chunks) {
      spare_.push_back(std::make_shared<Chunk>());
      spare_.back()->reserve(chunk_size);
    }
  }
  void push_back(const T& item) {
    last_->push_back(item);
    if (last_->size() < chunk_size) return;
    reserve(0);
    full_.push_back(std::exchange(last_, std::move(spare_.back())));
    spare_.pop_back();
  }

 private:
  static constexpr std::size_t chunk_size = 64;
  using Chunk = std::vector<T>;

  std::vector<std::shared_ptr<const Chunk>> full_;
  std::shared_ptr<Chunk> last_ = std::make_shared<Chunk>();  ///< never full, never shared
  std::vector<std::shared_ptr<Chunk>> spare_;
};

}  // namespace hushed::detail
