// SPDX-License-Identifier: MIT
#include "scene/thread_pool.hpp"

#include <atomic>

#if defined(HUSHED_THREADS)
#include <tbb/task_arena.h>
#include <tbb/task_group.h>
#endif

namespace hushed::detail {

#if defined(HUSHED_THREADS)

struct ThreadPool::Arena {
  explicit Arena(int size) : threads{size} { threads.initialize(); }
  tbb::task_arena threads;
};

bool ThreadPool::is_available() { return true; }

void ThreadPool::run_calls(void (*call)(void*, int) noexcept, void* work) {
  if (!arena_) return call(work, 0);
  // These order what the threads do, as the pool does too, but in a library that thread sanitizers cannot see into.
  std::atomic<int> begun{0}, ended{0};
  begun.store(1, std::memory_order_release);
  arena_->threads.execute([&] {
    tbb::task_group others;
    for (int i = 1; i < size_; ++i) {
      others.run([&, i] {
        (void)begun.load(std::memory_order_acquire);
        call(work, i);
        ended.fetch_add(1, std::memory_order_release);
      });
    }
    call(work, 0);
    others.wait();
  });
  (void)ended.load(std::memory_order_acquire);
}

#else

struct ThreadPool::Arena {
  explicit Arena(int) {}
};

bool ThreadPool::is_available() { return false; }

void ThreadPool::run_calls(void (*call)(void*, int) noexcept, void* work) { call(work, 0); }

#endif

ThreadPool::ThreadPool() = default;
ThreadPool::~ThreadPool() = default;

void ThreadPool::set_size(int size) {
  if (size == size_) return;
  arena_ = size > 1 ? std::make_unique<Arena>(size) : nullptr;
  size_ = size;
}

}  // namespace hushed::detail
