// SPDX-License-Identifier: MIT
#include "support/random_harbour.hpp"

#include <hushed/detail/scene_access.hpp>

namespace hushed::tests {

namespace {

/// A kind that was made at run time: of the test, or a script.
void give_own(Scene& harbour, Object object, Object beside, bool is_script, const Common& common) {
  if (is_script && RandomHarbour::give_script())
    RandomHarbour::give_script()(harbour, object, beside, common);
  else
    Settle::give(harbour, object, beside, common);
}

}  // namespace

Scene RandomHarbour::build(std::uint64_t order, const Scene* like) const {
  std::mt19937_64 random{seed_};
  const double rate = std::vector{120.0, 50.0, 97.0, 1000.0}[random() % 4];
  Scene harbour = like ? Scene{rate, *like} : Scene{rate};
  std::vector<Object> objects(static_cast<std::size_t>(size_));
  std::vector<int> parents;
  std::vector<NewObject> drafts;
  for (int i = 0; i < size_; ++i) {
    parents.push_back(i > 0 && random() % 2 ? pick_earlier(random, i) : -1);
    NewObject draft{.name = name(i), .rest = pose(random)};
    draft.inherit = {random() % 4 != 0, random() % 4 != 0, random() % 4 != 0};
    if (i % 3 == 0 && i < 60) draft.tags = {"third"};
    if (i % 6 == 0) draft.shape = Shape{i % 12 == 0 ? Shape::Kind::sphere : Shape::Kind::box, {0.5, 1.0, 0.7}};
    drafts.push_back(draft);
  }

  std::vector<int> sequence;
  for (int i = 0; i < size_; ++i) sequence.push_back(i);
  if (order != 0) std::shuffle(sequence.begin(), sequence.end(), std::mt19937_64{order});
  std::vector<bool> declared(objects.size(), false);
  const auto declare = [&](auto&& self, int i) -> void {
    const auto at = static_cast<std::size_t>(i);
    if (declared[at]) return;
    declared[at] = true;
    if (parents[at] >= 0) {
      self(self, parents[at]);
      drafts[at].parent = objects[static_cast<std::size_t>(parents[at])];
    }
    objects[at] = harbour.add(drafts[at]);
  };
  for (const int i : sequence) declare(declare, i);
  for (const int i : sequence) give_stack(harbour, objects, i);
  if (with_rules_) add_rules(harbour, order);
  return harbour;
}

void RandomHarbour::call(Scene& harbour, int moment, const std::function<void()>& check) const {
  std::mt19937_64 random{seed_ * 1000 + static_cast<std::uint64_t>(moment)};
  const std::string key{"WASDH"[random() % 5]};
  random() % 2 ? harbour.press(key) : harbour.release(key);
  if (random() % 3 == 0) harbour.axis(random() % 2 ? "forward" : "rise", real(random, -1, 1));
  feed_ahead(harbour, random);
  for (int i = 0; i < 6; ++i) {
    const int number_of_object = pick(random, size_);
    const auto found = harbour.find(name(number_of_object));
    if (!found) continue;  // a rule ended it
    const Object object = *found;
    const std::string path = harbour.name(object).append(".b").append(std::to_string(random() % 3));
    const auto what = random() % 12;
    const double number = real(random, -3, 3);
    const auto behaviour = harbour.find_behaviour(path);
    if (what == 0) harbour.hide(object);
    if (what == 1) harbour.show(object);
    if (!behaviour || what < 2) continue;
    if (what == 2) harbour.start(*behaviour);
    if (what == 3) harbour.stop(*behaviour);
    if (what == 4) harbour.restart(*behaviour);
    if (what == 9) harbour.toggle(*behaviour);
    if (what == 11 && (harbour.find_behaviour<Spring>(path) || harbour.find_behaviour<Steer>(path)))
      harbour.kick(*behaviour, {number, 0.5, -number});
    change_value(harbour, random, number_of_object, path, what, number);
    check();
  }
}

void RandomHarbour::change_value(Scene& harbour, std::mt19937_64& random, int number_of_object, const std::string& path,
                                 std::uint64_t what, double number) const {
  if (what == 5) harbour.set(path + ".weight", Value{std::abs(number) / 3});
  if (what == 6 && has(harbour, path + ".speed")) change_speed(harbour, path + ".speed", number * 40);
  if (what == 7 && has(harbour, path + ".velocity") && !has(harbour, path + ".speed"))
    harbour.set(path + ".velocity", Value{Value::List{Value{number}, Value{1.0}, Value{-number}}});
  if (what == 10) retune(harbour, path, std::abs(number));
  if (what != 8 || number_of_object == 0) return;
  const auto leader = harbour.find(name(pick_earlier(random, number_of_object)));
  if (!leader) return;
  if (const auto above = harbour.find_behaviour<Above>(path)) harbour.tune(*above)->below = *leader;
  if (const auto chase = harbour.find_behaviour<Chase>(path)) harbour.tune(*chase)->leader = *leader;
  if (const auto follow = harbour.find_behaviour<Follow>(path)) harbour.tune(*follow)->target = *leader;
  if (const auto face = harbour.find_behaviour<Face>(path)) harbour.tune(*face)->target = *leader;
}

void RandomHarbour::edit(Scene& file, std::mt19937_64& random) const {
  for (int i = 0; i < 8; ++i) {
    const int number_of_object = pick(random, size_);
    const std::string path = name(number_of_object).append(".b").append(std::to_string(random() % 3));
    const auto behaviour = file.find_behaviour(path);
    if (!behaviour) continue;
    const double number = real(random, -3, 3);
    if (random() % 4 == 0) {
      auto common = file.tune_common(*behaviour);
      if (random() % 2) common->enabled = !common->enabled;
      if (random() % 2) common->delay = seconds(std::abs(number) / 3);
      if (random() % 2) common->fade = seconds(std::abs(number) / 6);
    }
    if (random() % 4 == 0) {
      try {
        file.tune_common(*behaviour)->reads = static_cast<Reads>(random() % 2);
      } catch (const Error&) {  // it would depend on itself
      }
    }
    change_value(file, random, number_of_object, path, 5 + random() % 6, number);
  }
}

void RandomHarbour::feed_ahead(Scene& harbour, std::mt19937_64& random) const {
  for (int i = 0; i < size_; ++i) {
    const auto object = harbour.find(name(i));  // may have ended
    if (!object || !has_kind(harbour, *object, Fed::kind) || random() % 3 == 0) continue;
    const Pose there = pose(random);
    const Time at = harbour.time() + seconds(real(random, 0.001, 0.4));
    try {
      harbour.feed(*object, there, at);
    } catch (const BadValue&) {  // it is fed further ahead already
    }
  }
}

bool RandomHarbour::has_kind(const Scene& harbour, Object object, std::string_view kind) {
  const auto behaviours = harbour.behaviours(object);
  return std::any_of(behaviours.begin(), behaviours.end(),
                     [&](AnyBehaviour behaviour) { return harbour.kind(behaviour) == kind; });
}

std::vector<Object> RandomHarbour::in_order_of_handles(const Scene& harbour) {
  std::vector<Object> objects{harbour.objects().begin(), harbour.objects().end()};
  std::sort(objects.begin(), objects.end(), [](Object a, Object b) { return a.index < b.index; });
  return objects;
}

std::vector<Pose> RandomHarbour::poses_in_order_of_handles(const Scene& harbour) {
  std::vector<Pose> poses;
  for (const Object object : in_order_of_handles(harbour)) poses.push_back(harbour.world(object));
  return poses;
}

std::optional<Object> RandomHarbour::any_object(const Scene& harbour, std::mt19937_64& random) {
  const std::vector<Object> objects = in_order_of_handles(harbour);
  if (objects.empty()) return std::nullopt;
  return objects[random() % objects.size()];
}

std::optional<AnyBehaviour> RandomHarbour::any_behaviour(const Scene& harbour, std::mt19937_64& random) {
  const auto object = any_object(harbour, random);
  const auto behaviours = object ? harbour.behaviours(*object) : std::vector<AnyBehaviour>{};
  if (behaviours.empty()) return std::nullopt;
  return behaviours[random() % behaviours.size()];
}

void RandomHarbour::add_any_object(Scene& harbour, std::mt19937_64& random) {
  NewObject draft{.name = "flare" + std::to_string(random() % 40), .rest = pose(random)};
  if (harbour.find(draft.name)) draft.name.clear();
  if (random() % 2) draft.parent = any_object(harbour, random);
  if (random() % 3 == 0) draft.tags = {"third"};
  draft.poses = {PoseParts{.name = "there", .position = Vec3{real(random, -9, 9), 0, 3}}};
  const auto leader = any_object(harbour, random);
  draft.inherit.scale = random() % 4 != 0;
  const Object object = random() % 5 || !leader ? harbour.add(draft) : *leader;
  const Common common{.delay = seconds(random() % 3 ? 0.0 : 0.1), .fade = seconds(random() % 2 ? 0.0 : 0.2)};
  switch (random() % 9) {
    case 8: harbour.give(object, Pace{.rate = any_pace(random)}, common); break;
    case 7: harbour.give(object, Fed{}, common); break;
    case 0: harbour.give(object, Sway{.amplitude = {0, 1, 0}}, common); break;
    case 1: harbour.give(object, Spring{.frequency = 2.0, .target = Place{Vec3{0, 1, 0}}}, common); break;
    case 2:
      leader ? give_own(harbour, object, *leader, random() % 2 == 0, common)
             : void(harbour.give(object, Bob{1.0}, common));
      break;
    case 3:
      if (leader) harbour.give(object, Face{.target = *leader}, common);
      break;
    case 4:
      if (leader) harbour.give(object, Follow{.target = *leader, .half_life = seconds(0.2)}, common);
      break;
    case 5:
      if (leader)
        harbour.give(
            object,
            Attract{
                .to = *leader, .within = 50, .speed = 3.0, .reach = 1.0, .then = static_cast<Gathered>(random() % 3)},
            common);
      break;
    case 6: harbour.give(object, Steer{.urges = {urge::Wander{}, urge::Separation{.tag = "third"}}}, common); break;
  }
}

void RandomHarbour::add_any_rule(Scene& harbour, std::mt19937_64& random) {
  const auto object = any_object(harbour, random);
  const auto behaviour = any_behaviour(harbour, random);
  if (!object) return;
  const std::string name = harbour.name(*object);
  if (!harbour.find(name)) return;  // it has no name of its own
  Rule rule;
  switch (random() % 4) {
    case 0: rule.when = {happened("ping")}; break;
    case 1: rule.when = {above(name + ".speed", real(random, 0, 3))}; break;
    case 2: rule.when = {after(harbour.time() + seconds(real(random, 0, 0.5)))}; break;
    case 3: rule.when = {happened("lost")}; break;
  }
  rule.fires = static_cast<Fires>(random() % 3);
  const std::string path = behaviour ? harbour.path(*behaviour) : "";
  switch (random() % 6) {
    case 0: rule.then = {raise("ping")}; break;
    case 1: rule.then = {raise("pong"), raise("ping")}; break;
    case 2: rule.then = {random() % 2 ? end(name.c_str()) : hide(name.c_str())}; break;
    case 3: rule.then = {show(name.c_str())}; break;
    case 4: rule.then = {path.empty() ? raise("pong") : set(path + ".enabled", Value{random() % 2 == 0})}; break;
    case 5: rule.then = {path.empty() ? raise("pong") : toggle(path.c_str())}; break;
  }
  harbour.add_rule(rule);
}

RandomHarbour::Upset RandomHarbour::upset(Scene& harbour, std::mt19937_64& random,
                                          std::vector<Snapshot>& snapshots) const {
  Upset done;
  const auto object = any_object(harbour, random);
  const auto behaviour = any_behaviour(harbour, random);
  try {
    switch (random() % 33) {
      case 0: harbour.raise(random() % 2 ? "ping" : "pong"); break;
      case 1:
        if (object && harbour.size() > 4) harbour.end(*object);
        break;
      case 2:
        add_any_object(harbour, random);
        done.built = true;
        break;
      case 3:
        if (object && !harbour.poses(*object).empty()) harbour.place(*object, harbour.poses(*object).front());
        if (object && random() % 2) harbour.hide(*object);
        break;
      case 4: harbour.seek(harbour.time() * static_cast<std::int64_t>(random() % 100) / 100); break;
      case 5: harbour.seek(harbour.time() + seconds(real(random, 0, 0.4))); break;
      case 6: snapshots.push_back(harbour.snapshot()); break;
      case 7:
      case 8:
        if (!snapshots.empty()) {
          const std::size_t which = random() % snapshots.size();
          harbour.restore(snapshots[which]);
          done.restored = which;
        }
        break;
      case 9: {
        const bool is_whole = random() % 2;
        Scene next = is_whole ? build(0, &harbour) : Scene{harbour.tick_rate(), harbour};
        for (int i = 0; !is_whole && i < size_; i += 1 + static_cast<int>(random() % 2))
          if (harbour.find(name(i))) give_stack_alone(next, i);
        if (random() % 2) edit(next, random);
        for (std::uint64_t more = random() % 4; more > 0; --more) add_to(next, random);
        if (random() % 2) detail::SceneAccess::mark_base(next, nullptr);
        harbour.hot_reload(std::move(next));
        done.built = true;
        break;
      }
      case 10:
        add_any_rule(harbour, random);
        done.built = true;
        break;
      case 11:
        if (behaviour)
          for (const FieldInfo& field : harbour.fields(*behaviour)) {
            const std::string path = harbour.path(*behaviour) + '.' + std::string{field.name};
            done.tuned = true;
            if (random() % 3 == 0) harbour.reset(path);
            if (random() % 3 == 0 && harbour.get(path)) harbour.set(path, *harbour.get(path));
          }
        break;
      case 12: {
        Scene moved = std::move(harbour);
        harbour = std::move(moved);
        break;
      }
      case 13:
        if (object) random() % 2 ? harbour.hide(*object) : harbour.show(*object);
        break;
      case 14:
        if (behaviour) random() % 2 ? harbour.start(*behaviour) : harbour.stop(*behaviour);
        break;
      case 15:
        if (behaviour) random() % 2 ? harbour.restart(*behaviour) : harbour.toggle(*behaviour);
        break;
      case 16:
        if (behaviour && object) {
          done.tuned = true;
          harbour.retarget(*behaviour, *object);
        }
        break;
      case 17:
        if (behaviour) {
          done.tuned = true;
          auto common = harbour.tune_common(*behaviour);
          common->delay = seconds(real(random, 0, 0.3));
          common->enabled = random() % 2 == 0;
          common->reads = static_cast<Reads>(random() % 2);
        }
        break;
      case 22:
      case 23:
        for (const Object each : in_order_of_handles(harbour))
          if (has_kind(harbour, each, Fed::kind)) harbour.feed(each, pose(random));
        break;
      case 24: feed_ahead(harbour, random); break;
      case 25:
        for (const Object each : in_order_of_handles(harbour))
          if (has_kind(harbour, each, Fed::kind) && random() % 2) harbour.teleport(each, pose(random));
        break;
      case 26:
        if (behaviour) {
          harbour.remove(*behaviour);
          done.built = true;
        }
        break;
      case 27:
        if (object) {
          const auto parent = random() % 3 ? any_object(harbour, random) : std::nullopt;
          const bool is_new = parent != harbour.parent(*object);
          harbour.set_parent(*object, parent, random() % 2 ? KeepPose::world : KeepPose::local);
          done.built = is_new;
        }
        break;
      case 28:
        if (object) {
          harbour.set_rest(*object, pose(random));
          done.built = true;
        }
        break;
      case 29:
        if (object) {
          harbour.set_tags(*object, random() % 2 ? std::vector<std::string>{"third"} : std::vector<std::string>{});
          done.built = true;
        }
        break;
      case 30:  // as a game does that spawns and ends objects all the time
        for (int i = 0; i < 3; ++i) add_any_object(harbour, random);
        if (object && harbour.size() > 8) harbour.end(*object);
        done.built = true;
        break;
      case 31:
        if (object) {
          (has_kind(harbour, *object, Pace::kind) ? done.tuned : done.built) = true;
          harbour.set_pace(*object, any_pace(random));
        }
        break;
      case 32: harbour.shift_origin({real(random, -9e3, 9e3), 0, real(random, -9e3, 9e3)}); break;
      case 18: random() % 2 ? harbour.press("W") : harbour.release("W"); break;
      case 19: harbour.advance(std::chrono::nanoseconds{random() % 50'000'000}); break;
      case 20: harbour.advance(frame_time(1, harbour.tick_rate())); break;
      case 21: harbour.advance(std::chrono::duration<float>{0.01F}); break;
    }
  } catch (const Error&) {  // an invalid change is refused and changes nothing
  }
  return done;
}

void RandomHarbour::add_to(Scene& harbour, std::mt19937_64& random) const {
  const auto object = any_object(harbour, random);
  if (!object) return;
  try {
    switch (random() % 8) {
      case 0: add_any_rule(harbour, random); break;
      case 1: harbour.set_rest(*object, pose(random)); break;
      case 2:
        harbour.set_parent(*object, random() % 3 ? any_object(harbour, random) : std::nullopt,
                           random() % 2 ? KeepPose::world : KeepPose::local);
        break;
      case 3: harbour.set_tags(*object, {"third"}); break;
      case 4: harbour.set_pace(*object, any_pace(random)); break;
      default: add_any_object(harbour, random); break;
    }
  } catch (const Error&) {  // an invalid change is refused and changes nothing
  }
}

/// An object without family, and behaviours that need no other object.
void RandomHarbour::give_stack_alone(Scene& harbour, int i) const {
  std::mt19937_64 random{seed_ * 7919 + static_cast<std::uint64_t>(i)};
  const Object object = harbour.add({.name = name(i), .rest = pose(random)});
  harbour.give(object, Sway{.amplitude = {0.1, 0.2, 0}}, {.name = "b0"});
  if (i % 2) harbour.give(object, Spring{.frequency = 1.0}, {.name = "b1"});
}

std::vector<Pose> RandomHarbour::poses(const Scene& harbour) const {
  std::vector<Pose> all;
  for (int i = 0; i < size_; ++i) all.push_back(harbour.world(*harbour.find(name(i))));
  return all;
}

int RandomHarbour::pick_earlier(std::mt19937_64& random, int i) const {
  const int in_family = i % family_;
  if (i < family_) return pick(random, i);
  return in_family == 0 || random() % 8 == 0 ? 0 : i - 1 - pick(random, in_family);
}

int RandomHarbour::pick(std::mt19937_64& random, int below) {
  return static_cast<int>(random() % static_cast<std::uint64_t>(below));
}

double RandomHarbour::real(std::mt19937_64& random, double low, double high) {
  return low + (high - low) * static_cast<double>(random() >> 11) * 0x1p-53;
}

Pose RandomHarbour::pose(std::mt19937_64& random) {
  const auto number = [&](double size) { return real(random, -size, size); };
  const double x = number(4), y = number(4), z = number(4);
  const double pitch = number(90), yaw = number(180), roll = number(180);
  return {{x, y, z}, rotation(degrees(pitch), degrees(yaw), degrees(roll)), Vec3::Constant(real(random, 0.7, 1.3))};
}

Easing RandomHarbour::any_without_jumps(std::mt19937_64& random) {
  while (true) {
    const std::string_view name = Easing::names()[random() % Easing::names().size()];
    const auto has = [name](std::string_view word) { return name.find(word) != name.npos; };
    if (!has("expo") && !has("elastic") && !has("step-") && !has("circ")) return Easing::parse(name);
  }
}

void RandomHarbour::change_speed(Scene& harbour, const std::string& path, double speed) {
  try {
    harbour.set(path, Value{speed});
  } catch (const BadValue&) {  // of a kind that cannot turn back
    harbour.set(path, Value{-speed});
  }
}

void RandomHarbour::retune(Scene& harbour, const std::string& path, double number) {
  if (const auto spring = harbour.find_behaviour<Spring>(path)) {
    auto tuning = harbour.tune(*spring);
    tuning->frequency = number;
    tuning->space = number < 1 ? Space::parent : Space::world;
  }
  if (const auto pace = harbour.find_behaviour<Pace>(path)) harbour.tune(*pace)->rate = number;
  if (const auto smooth = harbour.find_behaviour<Smooth>(path)) {
    auto tuning = harbour.tune(*smooth);
    tuning->half_life = {seconds(number * 0.1), seconds(0.1), Time{}};
    tuning->space = number < 1 ? Space::parent : Space::world;
  }
  if (const auto steer = harbour.find_behaviour<Steer>(path)) {
    auto tuning = harbour.tune(*steer);
    tuning->max_acceleration = number * 5;
    tuning->urges.push_back(urge::Separation{.tag = "third", .within = number});
    tuning->urges.resize(std::min<std::size_t>(tuning->urges.size(), 6));
  }
  if (const auto follow = harbour.find_behaviour<Follow>(path)) {
    auto tuning = harbour.tune(*follow);
    tuning->half_life = seconds(number * 0.1);
    tuning->trail = seconds(number < 1 ? 0 : 0.3);
    tuning->max_distance = number;
    tuning->min_distance = std::nullopt;
  }
}

double RandomHarbour::any_pace(std::mt19937_64& random) {
  constexpr std::array paces{0.0, 0.25, 0.3, 1.0, 2.7};
  return paces[random() % paces.size()];
}

bool RandomHarbour::has(const Scene& harbour, const std::string& path) {
  try {
    return harbour.get(path).has_value();
  } catch (const BadValue&) {
    return false;
  }
}

/// Keys of all parts, or of some, of both sorts that do not jump.
std::shared_ptr<const MotionFile> RandomHarbour::any_motion(std::mt19937_64& random) {
  const auto channel = [&](std::size_t parts) {
    Motion::Channel made;
    if (random() % 4 == 0) return made;
    const bool is_cubic = random() % 2 == 0;
    made.between = is_cubic ? Motion::Between::cubic : Motion::Between::linear;
    double time = random() % 2 ? 0.0 : real(random, 0, 0.5);
    for (std::uint64_t keys = 1 + random() % 5; keys > 0; --keys, time += real(random, 0.05, 1)) {
      made.times.push_back(time);
      for (int which = 0; which < (is_cubic ? 3 : 1); ++which) {
        const bool is_value = !is_cubic || which == 1;
        const Quat turn = pose(random).rotation;
        for (std::size_t part = 0; part < parts; ++part)
          made.values.push_back(parts == 4 && is_value ? turn.coeffs()[static_cast<Eigen::Index>(part)]
                                                       : real(random, -2, 2));
      }
    }
    return made;
  };
  auto file = std::make_shared<MotionFile>();
  file->clips.push_back({"any", 0.0});
  Motion::Channel position = channel(3), rotation = channel(4), scale = channel(3);
  file->add("it", std::make_shared<Motion>(std::move(position), std::move(rotation), std::move(scale)));
  return file;
}

void RandomHarbour::give_stack(Scene& harbour, const std::vector<Object>& objects, int i) const {
  std::mt19937_64 random{seed_ * 7919 + static_cast<std::uint64_t>(i)};
  const Object object = objects[static_cast<std::size_t>(i)];
  const Vec3 here = harbour.rest(object).position;
  const auto count = random() % 4;
  for (std::uint64_t b = 0; b < count; ++b) {
    Common common{.name = std::string{"b"}.append(std::to_string(b))};
    if (random() % 3 == 0) common.delay = seconds(real(random, 0, 1));
    if (random() % 3 == 0) common.fade = seconds(real(random, 0.05, 0.5));
    if (random() % 4 == 0) common.weight = real(random, 0, 1);
    common.enabled = random() % 6 != 0;
    const Space space = static_cast<Space>(random() % 3);
    const Vec3 any{real(random, -1, 1), real(random, -1, 1), real(random, -1, 1)};
    const bool follows = i > 0 && random() % 2;
    const bool reads_back = follows && random() % 4 == 0;
    const Object leader = objects[static_cast<std::size_t>(i > 0 ? pick_earlier(random, i) : 0)];
    const Place place = follows ? Place{leader, any} : Place{any};
    const Easing easing = any_without_jumps(random);
    const Time pause = seconds(real(random, 0, 0.4)) * (random() % 2 ? 0 : 1);
    const double pace = real(random, 0.1, 3);
    const auto seed = static_cast<std::int64_t>(random() % 1000);
    switch (random() % 19) {
      case 18: {
        Replay replay{.file = any_motion(random), .object = "it", .speed = pace * (random() % 3 == 0 ? -1 : 1)};
        if (random() % 2) replay.start = seconds(real(random, 0, 3));
        replay.ends = random() % 2 ? ReplayEnds::stop : ReplayEnds::return_;  // a loop may jump
        if (random() % 3 == 0) replay.channels = {Channel::rotation};
        harbour.give(object, replay, common);
        break;
      }
      case 0: harbour.give(object, Spin{.axis = any, .speed = degrees(any.x() * 200), .space = space}, common); break;
      case 1: {
        Travel travel{.velocity = any * 3, .space = space, .at_edge = random() % 2 ? Edge::bounce : Edge::stop};
        if (b == 0) travel.between = {here - Vec3{1, 0.5, 2}, here + Vec3{0.5, 2, 1}};
        harbour.give(object, travel, common);
        break;
      }
      case 2:
        if (!follows)
          harbour.give(object, Bob{any.y()}, common);
        else if (any.y() < 0)
          harbour.give(object, Above{leader}, common);
        else
          give_own(harbour, object, leader, any.x() < 0, common);
        break;
      case 4:
        harbour.give(object,
                     Sway{.channel = static_cast<Channel>(random() % 3),
                          .amplitude = any * 0.3,
                          .frequency = {any.x(), any.y() * 3, 0.5},
                          .phase = degrees(any.z() * 180),
                          .wave = static_cast<Wave>(random() % 5),
                          .seed = seed},
                     common);
        break;
      case 5: {
        Orbit orbit{.centre = place, .axis = any, .face = static_cast<OrbitFacing>(random() % 3)};
        if (random() % 2)
          orbit.period = any.x() * 9 + (any.x() < 0 ? -1 : 1);
        else
          orbit.speed = degrees(any.y() * 200);
        if (random() % 2) orbit.radius = Radii{std::abs(any.x()) + 0.1, std::abs(any.z()) + 0.1};
        harbour.give(object, orbit, common);
        break;
      }
      case 6: {
        Glide glide{.easing = easing, .ends = static_cast<GlideEnds>(random() % 3), .pause = pause};
        const PoseParts end{.position = any * 3, .rotation = pose(random).rotation, .scale = Vec3{1, 2, 0.5}};
        random() % 2 ? glide.to = end : glide.by = end;
        if (random() % 2)
          glide.speed = pace;
        else
          glide.duration = seconds(pace);
        harbour.give(object, glide, common);
        break;
      }
      case 7: {
        Roam roam{.box = {here - Vec3{1, 1, 1}, here + Vec3{1, 2, 3}}, .easing = easing, .pause = pause, .seed = seed};
        if (random() % 2)
          roam.speed = pace;
        else
          roam.duration = seconds(pace);
        harbour.give(object, roam, common);
        break;
      }
      case 8: {
        Route route{.points = {here, here + any, place, Vec3{here - any * 2}},
                    .shape = static_cast<PathShape>(random() % 2),
                    .ends = static_cast<RouteEnds>(random() % 3),
                    .pause = pause,
                    .easing = easing,
                    .face = static_cast<RouteFacing>(random() % 2),
                    .start = real(random, 0, 2)};
        if (random() % 2)
          route.speed = pace * (random() % 2 ? 1 : -1);
        else
          route.duration = seconds(pace);
        harbour.give(object, route, common);
        break;
      }
      case 9: {
        Follow follow{.target = leader, .offset_space = random() % 2 == 0 ? Space::world : Space::target};
        if (random() % 2) follow.offset = any;
        if (random() % 2) follow.channels = {Channel::position, Channel::rotation, Channel::scale};
        if (random() % 2) follow.half_life = seconds(pace * 0.2);
        if (random() % 3 == 0) follow.max_speed = pace * 2;
        if (random() % 3 == 0) follow.min_distance = 0.5;
        if (random() % 3 == 0) follow.max_distance = 0.5 + pace;
        if (random() % 3 == 0) follow.trail = seconds(pace);
        if (random() % 3 == 0) follow.deadzone = 0.3;
        if (reads_back && follow.half_life > Time{}) common.reads = Reads::last_tick;
        if (i > 0) harbour.give(object, follow, common);
        break;
      }
      case 10: {
        // A direction that reverses within a tick has no unique shortest rotation.
        const bool looks_along = random() % 3 == 0 && count == 1 && i == 0;
        Face face{.target = looks_along ? FaceTarget::travel() : FaceTarget{place},
                  .only = static_cast<Turns>(random() % 2),
                  .forward = pose(random).position};
        if (random() % 2) face.half_life = seconds(pace * 0.2);
        if (random() % 2) face.max_turn_speed = degrees(pace * 90);
        if (random() % 2) face.up = any;
        if (reads_back && face.half_life > Time{}) common.reads = Reads::last_tick;
        harbour.give(object, face, common);
        break;
      }
      case 11: {
        Spring spring{.channel = static_cast<Channel>(random() % 3),
                      .frequency = pace * 2,
                      .damping = random() % 2 ? pace : 0.1,
                      .velocity = any * 2,
                      .space = random() % 2 == 0 ? Space::parent : Space::world};
        if (random() % 3 == 0) spring.target = pose(random).rotation * any;
        if (random() % 3 == 0 && follows) spring.target = leader;
        if (reads_back) common.reads = Reads::last_tick;
        harbour.give(object, spring, common);
        break;
      }
      case 12: {
        HalfLives times{seconds(pace * 0.1), seconds(random() % 2 ? 0 : 0.2), seconds(random() % 2 ? 0 : pace)};
        harbour.give(object, Smooth{.half_life = times, .space = random() % 2 == 0 ? Space::parent : Space::world},
                     common);
        break;
      }
      case 13: {
        Drive drive{.speed = pace * 2,
                    .half_life = seconds(random() % 2 ? 0 : pace * 0.3),
                    .space = follows ? Heading{leader} : Heading{random() % 2 == 0 ? Space::world : Space::own},
                    .mode = static_cast<DriveMode>(random() % 2)};
        harbour.give(object, drive, common);
        break;
      }
      case 14: {
        Attract attract{.to = leader, .within = pace * 3, .reach = 0.2, .then = static_cast<Gathered>(random() % 2)};
        if (random() % 2) {
          attract.to = Tagged{"third"};
          common.reads = Reads::last_tick;
        }
        if (random() % 2)
          attract.speed = pace;
        else
          attract.acceleration = pace;
        if (i > 0) harbour.give(object, attract, common);
        break;
      }
      case 15: {
        Steer steer{.max_speed = pace * 3,
                    .max_acceleration = pace * 8,
                    .face = static_cast<SteerFacing>(random() % 2),
                    .planar = random() % 2 == 0};
        const std::vector<Urge> all{urge::Seek{place},
                                    urge::Flee{place, pace * 2},
                                    urge::Arrive{place, pace},
                                    urge::Wander{.seed = seed},
                                    urge::Pursue{place},
                                    urge::Evade{place, pace * 3},
                                    urge::Separation{.tag = "third", .within = pace * 2},
                                    urge::Alignment{.tag = "third"},
                                    urge::Cohesion{.tag = "third", .within = 6.0},
                                    urge::Path{.points = {here, here + any * 4, place}},
                                    urge::Avoid{.tag = "third", .margin = 0.1},
                                    urge::Contain{{here - Vec3{3, 3, 3}, here + Vec3{3, 3, 3}}}};
        for (Urge urge : all)
          if (random() % 3 == 0) steer.urges.push_back(urge);
        if (steer.urges.empty()) steer.urges = {urge::Wander{.seed = seed}};
        if (reads_back) common.reads = Reads::last_tick;
        harbour.give(object, steer, common);
        break;
      }
      case 16: {
        Fed fed{.space = random() % 2 == 0 ? Space::world : Space::parent};
        if (random() % 2) fed.channels = {Channel::rotation, Channel::position};
        if (!has_kind(harbour, object, Fed::kind)) harbour.give(object, fed, common);
        break;
      }
      case 17:
        if (!has_kind(harbour, object, Pace::kind))
          harbour.give(object, Pace{.rate = any_pace(random)}, {.name = common.name});
        break;
      case 3:  // with state: a leader that is read at ticks does not make it jump
        if (reads_back) common.reads = Reads::last_tick;
        follows ? void(harbour.give(object, Chase{leader}, common)) : void(harbour.give(object, Bob{any.z()}, common));
        break;
    }
  }
}

void RandomHarbour::add_rules(Scene& harbour, std::uint64_t order) const {
  std::vector<Rule> rules;
  std::mt19937_64 random{seed_ * 104729};
  for (int i = 0; i < 5; ++i) {
    const std::string one = name(pick(random, size_)), other = name(pick(random, size_));
    const std::string path = one + ".b0";
    const double number = real(random, 0, 3);
    const bool has_one = harbour.find_behaviour(path).has_value();
    Rule rule{.name = "rule-" + std::to_string(i)};
    switch (random() % 6) {
      case 0: rule.when = {closer_than(one.c_str(), other.c_str(), number * 2)}; break;
      case 1: rule.when = {above(one + ".rotation.yaw", number * 30)}; break;
      case 2: rule.when = {pressed("W"), after(seconds(number * 0.2))}; break;
      case 3:
        rule.when = {above(other + ".speed", number), farther_than(Tagged{"third"}, Vec3{0, 0, 0}, number)};
        break;
      case 4: rule.any = {happened("ping"), happened("lost"), held("A")}; break;
      case 5: rule.when = {between("local:" + one + ".position.x", -number, number)}; break;
    }
    if (random() % 4 == 0) rule.held_for = seconds(number * 0.1);
    rule.fires = static_cast<Fires>(random() % 2);
    const auto what = random() % 8;
    if (what == 0) rule.then.push_back(hide(other.c_str()));
    if (what == 1) rule.then.push_back(show(other.c_str()));
    if (what == 2) rule.then.push_back(raise("ping"));
    if (what > 2 && has_one) {
      rule.then.push_back(what == 3 ? toggle(path.c_str()) : what == 4 ? restart(path.c_str()) : stop(path.c_str()));
      if (what == 6) rule.then.push_back(set(path + ".weight", Value{number / 3}));
      if (harbour.find_behaviour<Pace>(path)) rule.then.push_back(set(path + ".rate", Value{number}));
      if (what == 7) rule.then.push_back(start(path.c_str()));
    }
    if (rule.then.empty()) rule.then.push_back(raise("pong"));
    rules.push_back(std::move(rule));
  }
  if (order != 0) std::shuffle(rules.begin(), rules.end(), std::mt19937_64{order});
  for (const Rule& rule : rules) harbour.add_rule(rule);
}

}  // namespace hushed::tests
