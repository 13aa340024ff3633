// SPDX-License-Identifier: MIT
#pragma once

// The threads that evaluate a scene.

#include <memory>

namespace hushed::detail {

class ThreadPool {
 public:
  ThreadPool();
  ~ThreadPool();
  ThreadPool(const ThreadPool&) = delete;
  ThreadPool& operator=(const ThreadPool&) = delete;

  static constexpr int most = 64;
  /// True where the library was built with threads (the option HUSHED_THREADS).
  static bool is_available();
  /// The number of threads with the calling one: 1 to `most`; 1 unless `is_available`.
  void set_size(int size);
  int size() const { return size_; }

  /// Calls `work(i)` once for each i in [0, size): `work(0)` on the calling thread, the others on threads that are
  /// free, or on the calling one after it has finished its own. Returns when all calls have returned. `work` must not
  /// throw.
  template <class Work>
  void run(Work& work) {
    run_calls([](void* call, int i) noexcept { (*static_cast<Work*>(call))(i); }, &work);
  }

 private:
  void run_calls(void (*call)(void*, int) noexcept, void* work);

  struct Arena;
  std::unique_ptr<Arena> arena_;  ///< nullptr while there is one thread
  int size_ = 1;
};

}  // namespace hushed::detail
