// SPDX-License-Identifier: MIT
// Random calls in random order: nothing crashes, and everything stays consistent, finite and repeatable.

#include <array>
#include <string>
#include <vector>

#include <hushed/detail/scene_access.hpp>

#include "support/random_harbour.hpp"

namespace hushed::tests {
namespace {

/// The poses and events of a part of a play.
struct Played {
  std::vector<Pose> poses;
  std::vector<std::string> events;
};

Played played(Scene& harbour) {
  Played all;
  for (int frame = 0; frame < 4; ++frame) {
    harbour.advance(std::chrono::milliseconds{37});
    const auto poses = RandomHarbour::poses_in_order_of_handles(harbour);
    all.poses.insert(all.poses.end(), poses.begin(), poses.end());
    for (const Event& event : harbour.events())
      all.events.push_back(std::to_string(event.time.count()) + ' ' + harbour.describe(event));
  }
  return all;
}

void check_consistent(const Scene& harbour) {
  RC_ASSERT(harbour.objects().size() == harbour.size());
  RC_ASSERT(harbour.world_poses().size() == harbour.size());
  for (std::size_t i = 0; i < harbour.size(); ++i) {
    const Object object = harbour.objects()[i];
    RC_ASSERT(harbour.alive(object));
    RC_ASSERT(same_bits(harbour.world(object), harbour.world_poses()[i]));
    RC_ASSERT(harbour.world_poses()[i].position.allFinite() && harbour.world_poses()[i].scale.allFinite());
    RC_ASSERT(std::abs(harbour.world_poses()[i].rotation.norm() - 1.0) < 1e-9);
    for (const AnyBehaviour behaviour : harbour.behaviours(object)) {
      (void)harbour.running(behaviour);
      (void)harbour.dependencies(behaviour);
    }
  }
  for (const Event& event : harbour.events()) (void)harbour.describe(event);
}

RC_GTEST_PROP(RandomCalls, LeaveAConsistentSceneThatCanBeRepeated, (std::uint64_t seed)) {
  const RandomHarbour made{seed, 12};
  Scene harbour = made.build();
  std::mt19937_64 random{seed};
  std::vector<Snapshot> snapshots;
  for (int i = 0; i < 60; ++i) {
    made.upset(harbour, random, snapshots);
    check_consistent(harbour);
    if (random() % 6 != 0) continue;
    const Snapshot here = harbour.snapshot();
    const Played first = played(harbour);
    harbour.restore(here);
    const Played again = played(harbour);
    RC_ASSERT(same_bits(again.poses, first.poses));
    RC_ASSERT(again.events == first.events);
    if (random() % 2) snapshots.push_back(here);
  }
}

/// A file is read again that has not changed: what the program has added, changed and ended since stays, bit for bit.
RC_GTEST_PROP(RandomCalls, StayWhereTheSameFileIsReadAgain, (std::uint64_t seed)) {
  const RandomHarbour made{seed, 12};
  std::array<Scene, 2> both{made.build(), made.build()};
  std::array<Played, 2> after;
  for (std::size_t which = 0; which < both.size(); ++which) {
    Scene& harbour = both[which];
    detail::SceneAccess::mark_base(harbour, nullptr);
    std::mt19937_64 random{seed};
    int moment = 0;
    const auto play = [&](int moments) {
      for (int i = 0; i < moments; ++i, ++moment) {
        harbour.advance(RandomHarbour::moment(1));
        try {
          made.call(harbour, moment);
        } catch (const DependencyCycle&) {  // with what was added
        }
        if (moment < 4) made.add_to(harbour, random);
      }
    };
    play(static_cast<int>(2 + seed % 5));
    for (int times = 0; times < 3; ++times) {
      if (which == 1) {
        ++KindInVersions::version;
        Scene next = made.build(0, &harbour);
        detail::SceneAccess::mark_base(next, nullptr);
        RC_ASSERT(harbour.hot_reload(std::move(next)) == std::vector<std::string>{});
      }
      const Played now = played(harbour);
      after[which].poses.insert(after[which].poses.end(), now.poses.begin(), now.poses.end());
      after[which].events.insert(after[which].events.end(), now.events.begin(), now.events.end());
      play(2);
    }
  }
  RC_ASSERT(after[0].events == after[1].events);
  RC_ASSERT(same_bits(after[0].poses, after[1].poses));
}

RC_GTEST_PROP(RandomCalls, AreRepeatedBySeek, (std::uint64_t seed)) {
  const RandomHarbour made{seed, 12};
  Scene harbour = made.build();
  std::mt19937_64 random{seed};
  std::vector<Snapshot> snapshots;
  bool tuned = false;
  std::vector<bool> tuned_then;  // of each snapshot
  for (int i = 0; i < 60; ++i) {
    const auto done = made.upset(harbour, random, snapshots);
    // Building changes the first state of `seek`, and tuned values stay wherever it goes.
    tuned = done.built ? false : done.restored ? tuned_then[*done.restored] : tuned || done.tuned;
    tuned_then.resize(snapshots.size(), tuned);
    if (done.built || tuned || random() % 6 != 0) continue;
    const Time from = harbour.time();
    harbour.advance(std::chrono::milliseconds{411});
    const Time to = harbour.time();
    const std::vector<Pose> poses = made.poses_in_order_of_handles(harbour);
    harbour.seek(from + (to - from) * static_cast<std::int64_t>(random() % 100) / 100);
    harbour.seek(to);
    RC_ASSERT(same_bits(made.poses_in_order_of_handles(harbour), poses));
  }
}

RC_GTEST_PROP(RandomCalls, CanComeFromCallbacks, (std::uint64_t seed)) {
  const RandomHarbour made{seed, 12};
  Scene harbour = made.build();
  std::mt19937_64 random{seed};
  std::vector<Snapshot> snapshots;
  int calls = 0;
  for (const char* const event : {"ping", "pong", "lost", "reached", "gathered", "fired"})
    harbour.on(event, [&](const Event&) {
      if (++calls % 8 != 0) return;
      made.upset(harbour, random, snapshots);
    });
  for (int i = 0; i < 40; ++i) {
    made.upset(harbour, random, snapshots);
    harbour.advance(std::chrono::milliseconds{50});
    check_consistent(harbour);
  }
}

}  // namespace
}  // namespace hushed::tests
