// SPDX-License-Identifier: MIT
#pragma once

#include <algorithm>
#include <cstddef>
#include <memory>
#include <utility>
#include <vector>

namespace hushed::detail {

/// The values of the behaviours of a store, by row. Copies of a table share what has not changed since the last copy,
/// so that saving and restoring values that nobody has changed takes next to no time or memory.
template <class Values>
class ValueTable {
 public:
  ValueTable() = default;
  ValueTable(const ValueTable& other) {
    chunks_.reserve(other.chunks_.size());
    for (const Chunk& chunk : other.chunks_) chunks_.push_back({{}, chunk.image()});
  }
  ValueTable& operator=(const ValueTable&) = delete;

  const Values& operator[](std::size_t row) const { return chunks_[row / chunk_size].at(row % chunk_size); }
  /// Replaces the values of a row, or adds the next row.
  void set(std::size_t row, Values values) {
    if (row / chunk_size == chunks_.size()) chunks_.emplace_back();
    chunks_[row / chunk_size].set(row % chunk_size, std::move(values));
  }
  /// From now on all values stay at their addresses, so that kernels may point into them.
  void fix_addresses() {
    for (Chunk& chunk : chunks_) chunk.make_own();
  }
  /// Takes the values of a copy that was made earlier. Rows that only one of the two has keep their values. Returns
  /// false where nothing has changed since.
  bool restore(const ValueTable& then) {
    bool changes = false;
    for (std::size_t i = 0; i < std::min(chunks_.size(), then.chunks_.size()); ++i)
      changes = chunks_[i].restore(then.chunks_[i]) || changes;
    return changes;
  }

 private:
  static constexpr std::size_t chunk_size = 64;

  class Chunk {
   public:
    Chunk() = default;
    Chunk(std::vector<Values> own, std::shared_ptr<const std::vector<Values>> image)
        : own_{std::move(own)}, image_{std::move(image)} {}

    const Values& at(std::size_t row) const { return own_.empty() ? (*image_)[row] : own_[row]; }
    void set(std::size_t row, Values&& values) {
      make_own();
      image_.reset();
      if (row == own_.size())
        own_.push_back(std::move(values));
      else
        own_[row] = std::move(values);
    }
    void make_own() {
      own_.reserve(chunk_size);
      if (own_.empty() && image_) own_.assign(image_->begin(), image_->end());
    }
    const std::shared_ptr<const std::vector<Values>>& image() const {
      if (!image_) image_ = std::make_shared<const std::vector<Values>>(own_);
      return image_;
    }
    bool restore(const Chunk& then) {
      const auto& other = then.image();
      if (image_ == other) return false;
      make_own();
      std::copy_n(other->begin(), std::min(own_.size(), other->size()), own_.begin());
      image_ = own_.size() == other->size() ? other : nullptr;
      return true;
    }

   private:
    std::vector<Values> own_;  ///< empty while the image alone has them
    /// Equal values that copies share and nobody changes; none where there is no copy yet.
    mutable std::shared_ptr<const std::vector<Values>> image_;
  };

  std::vector<Chunk> chunks_;
};

}  // namespace hushed::detail
