// SPDX-License-Identifier: MIT
// G3: the number of threads changes nothing, bit for bit.

#include <atomic>
#include <random>
#include <thread>

#include <tbb/global_control.h>

#include "support/random_harbour.hpp"

namespace hushed::tests {
namespace {

/// Lets the pool have eight threads on a machine with fewer processors.
class G3Threads : public testing::Test {
  tbb::global_control eight_{tbb::global_control::max_allowed_parallelism, 8};
};

std::vector<std::string> events(const Scene& harbour) {
  std::vector<std::string> all;
  for (const Event& event : harbour.events()) all.push_back(harbour.describe(event));
  return all;
}

/// Many families, some of whose members depend on the first object: several chunks in several waves.
TEST_F(G3Threads, ChangeNothing) {
  std::random_device device;
  for (const std::uint64_t seed : {std::uint64_t{1}, std::uint64_t{2}, std::uint64_t{device()}}) {
    const RandomHarbour made{seed, 1000, true, 16};
    std::vector<Scene> harbours;
    for (const int threads : {1, 2, 3, 8}) {
      harbours.push_back(made.build());
      harbours.back().set_threads(threads);
    }
    for (int moment = 0; moment < 6; ++moment) {
      for (Scene& harbour : harbours) {
        made.call(harbour, moment);
        harbour.advance(std::chrono::milliseconds{21});
        ASSERT_TRUE(same_bits(made.poses(harbour), made.poses(harbours.front())))
            << "seed " << seed << ", moment " << moment << ", " << harbour.threads() << " threads";
        ASSERT_EQ(events(harbour), events(harbours.front())) << "seed " << seed;
      }
    }
  }
}

/// Eight scenes, each of which is built, played and read on either of two threads in turn.
TEST_F(G3Threads, SeveralScenesPlayBesideEachOther) {
  const RandomHarbour made{11, 60};
  Scene alone = made.build();
  std::vector<std::optional<Scene>> harbours(8);
  for (int moment = 0; moment < 8; ++moment) {
    made.call(alone, moment);
    alone.advance(std::chrono::milliseconds{50});
    const auto expected = made.poses(alone);
    std::atomic<int> equal = 0;
    const auto play = [&](std::size_t first) {
      for (std::size_t i = first; i < harbours.size(); i += 2) {
        std::optional<Scene>& harbour = harbours[(i + static_cast<std::size_t>(moment)) % harbours.size()];
        if (!harbour) harbour = made.build();
        made.call(*harbour, moment);
        harbour->advance(std::chrono::milliseconds{50});
        if (same_bits(made.poses(*harbour), expected)) ++equal;
      }
    };
    std::thread other{play, 1};
    play(0);
    other.join();
    ASSERT_EQ(equal, 8) << moment;
  }
}

/// Threads come and go while the scene plays, and stay after a reload.
TEST_F(G3Threads, MayChangeAtAnyTime) {
  const RandomHarbour made{7, 1000, true, 16};
  Scene one = made.build(), other = made.build();
  for (int moment = 0; moment < 10; ++moment) {
    other.set_threads(1 + moment * 3 % 8);
    for (Scene* harbour : {&one, &other}) {
      made.call(*harbour, moment);
      harbour->advance(std::chrono::milliseconds{21});
    }
    ASSERT_TRUE(same_bits(made.poses(one), made.poses(other))) << "moment " << moment;
  }
  const int threads = other.threads();
  Scene next{other.tick_rate(), other};
  other.hot_reload(std::move(next));
  EXPECT_EQ(other.threads(), threads);
}

/// Agents decide on all threads, and are answered from one grid.
TEST_F(G3Threads, ChangeNothingInAFlock) {
  Scene one, other;
  other.set_threads(4);
  std::vector<Object> gulls[2];
  for (Scene* harbour : {&one, &other}) {
    std::mt19937_64 random{3};
    for (int i = 0; i < 1200; ++i) {
      NewObject gull{.name = "gull" + std::to_string(i), .tags = {"gull"}};
      for (double& each : gull.rest.position) each = static_cast<double>(random() % 400) * 0.1;
      const Object object = harbour->add(gull);
      harbour->give(object, Steer{.urges = {urge::Wander{.seed = i}, urge::Separation{.tag = "gull", .within = 3.0},
                                            urge::Alignment{.tag = "gull"}, urge::Cohesion{.tag = "gull"}}});
      gulls[harbour == &one ? 0 : 1].push_back(object);
    }
  }
  for (int frame = 0; frame < 30; ++frame) {
    one.advance(std::chrono::milliseconds{21});
    other.advance(std::chrono::milliseconds{21});
    for (std::size_t i = 0; i < gulls[0].size(); ++i)
      ASSERT_TRUE(same_bits(one.world(gulls[0][i]), other.world(gulls[1][i]))) << "frame " << frame << ", gull " << i;
  }
}

/// Shares a counter with all its copies, without protection: it must stay on the calling thread.
struct Counted {
  int* calls;
  Pose apply(const Pose& in, const Moment&) const {
    ++*calls;
    return in;
  }
};

struct NotesThread {
  static constexpr bool thread_safe = true;
  std::atomic<int>* elsewhere;
  std::thread::id caller;
  Pose apply(const Pose& in, const Moment&) const {
    if (std::this_thread::get_id() != caller) ++*elsewhere;
    for (int i = 0; i < 1000; ++i) std::atomic_thread_fence(std::memory_order_seq_cst);  // time for others to help
    return in;
  }
};

TEST_F(G3Threads, RunBehavioursOfUsersOnTheCallerOnlyUnlessTheyAreThreadSafe) {
  int calls = 0;
  std::atomic<int> elsewhere = 0;
  Scene harbour;
  harbour.set_threads(4);
  for (int i = 0; i < 2000; ++i) harbour.give(harbour.add({}), Counted{&calls});
  for (int i = 0; i < 2000; ++i) harbour.give(harbour.add({}), NotesThread{&elsewhere, std::this_thread::get_id()});
  harbour.advance(std::chrono::milliseconds{16});
  calls = 0;
  harbour.advance(std::chrono::milliseconds{16});
  EXPECT_EQ(calls, 2000);
  for (int frame = 0; frame < 1000 && elsewhere == 0; ++frame) harbour.advance(std::chrono::milliseconds{16});
  EXPECT_GT(elsewhere, 0);
}

/// Code on another thread is refused as on the caller's.
struct CallsItsScene {
  static constexpr bool thread_safe = true;
  Scene* scene;
  Pose apply(const Pose& in, const Moment& now) const {
    if (now.time > Time{}) scene->hide(now.owner);
    return in;
  }
};

TEST_F(G3Threads, RefuseCallsOfTheSceneByBehaviours) {
  Scene harbour;
  harbour.set_threads(8);
  for (int i = 0; i < 4000; ++i) harbour.give(harbour.add({}), CallsItsScene{&harbour});
  harbour.advance(std::chrono::milliseconds{16});
  EXPECT_EQ(std::count_if(harbour.events().begin(), harbour.events().end(),
                          [](const Event& event) { return event.name == "failed"; }),
            4000);
  EXPECT_FALSE(harbour.hidden(harbour.objects()[0]));
}

TEST(Threads, AreOneToSixtyFour) {
  Scene harbour;
  EXPECT_EQ(harbour.threads(), 1);
  EXPECT_THROW(harbour.set_threads(0), BadValue);
  EXPECT_THROW(harbour.set_threads(65), BadValue);
}

}  // namespace
}  // namespace hushed::tests
