/* SPDX-License-Identifier: MIT */
/* The interface for C, as a program in C uses it. */

#include <hushed/hushed.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static int checks = 0, failures = 0;

static void check(int holds, const char* what, int line) {
  ++checks;
  if (holds) return;
  ++failures;
  fprintf(stderr, "line %d: %s\n", line, what);
  for (size_t i = 0; i < hushed_error_count(); ++i) fprintf(stderr, "  %s\n", hushed_error_at(i).text);
}
#define CHECK(condition) check((condition), #condition, __LINE__)
#define OK(call) check((call) == HUSHED_OK, #call, __LINE__)

static int is_near(double a, double b) { return fabs(a - b) < 1e-9; }
static int says(const char* text) { return strstr(hushed_error_at(0).text, text) != NULL; }

static const char* const quay =
    "hushed = 1\n"
    "[object.lamp]\nposition = [0, 5, 0]\n[[object.lamp.behaviour]]\nkind = \"spin\"\nspeed = 40\n"
    "[object.player]\nfed = true\n"
    "[object.gull]\n[[object.gull.behaviour]]\nkind = \"follow\"\ntarget = \"player\"\noffset = [0, 2, 0]\n"
    "half_life = 0\n"
    "[[rule]]\nname = \"greet\"\nwhen = { event = \"hello\" }\ndo = { set = \"lamp.spin.speed\", to = 90 }\n";

/* --- scenes, objects and poses -------------------------------------------------------------------------------------
 */

static void test_scenes(void) {
  hushed_scene scene = 0;
  OK(hushed_scene_read(quay, "quay.toml", 0, &scene));
  hushed_object lamp = 0, gull = 0, player = 0, none = 7;
  OK(hushed_find(scene, "lamp", &lamp));
  OK(hushed_find(scene, "gull", &gull));
  OK(hushed_find(scene, "player", &player));
  OK(hushed_find(scene, "nobody", &none));
  CHECK(lamp != 0 && none == 0);

  OK(hushed_advance(scene, 1.5));
  hushed_pose pose;
  OK(hushed_world(scene, lamp, &pose));
  const double half = 30.0 * acos(-1.0) / 180.0; /* 1.5 s at 40 degrees a second are 60, about Y */
  CHECK(is_near(pose.rotation[1], sin(half)) && is_near(pose.rotation[3], cos(half)));
  CHECK(is_near(pose.position[1], 5.0));

  hushed_pose there = hushed_pose_at(4, 0, 1);
  OK(hushed_feed(scene, player, &there));
  OK(hushed_advance(scene, 0.5));
  OK(hushed_world(scene, gull, &pose));
  CHECK(is_near(pose.position[0], 4.0) && is_near(pose.position[1], 2.0) && is_near(pose.position[2], 1.0));
  double seconds = 0;
  OK(hushed_time(scene, &seconds));
  CHECK(is_near(seconds, 2.0));

  size_t count = 0, index = 0;
  OK(hushed_object_count(scene, &count));
  CHECK(count == 3);
  hushed_object objects[3];
  hushed_pose poses[3];
  float matrices[48];
  const hushed_matrix_layout z_up = {1, 0, 0, {0, 0, 0}};
  OK(hushed_objects(scene, objects, 3));
  OK(hushed_world_poses(scene, poses, 3));
  OK(hushed_write_matrices(scene, &z_up, matrices, 48));
  OK(hushed_index_of(scene, gull, &index));
  CHECK(objects[index] == gull && is_near(poses[index].position[0], 4.0));
  CHECK(matrices[16 * index + 12] == 4.0F && matrices[16 * index + 13] == -1.0F && matrices[16 * index + 14] == 2.0F);
  CHECK(hushed_world_poses(scene, poses, 2) == HUSHED_BAD_VALUE && says("there is room for 2 objects"));
  CHECK(hushed_write_matrices(scene, NULL, matrices, 47) == HUSHED_BAD_VALUE);

  const double by[3] = {4, 0, 0};
  OK(hushed_shift_origin(scene, by));
  OK(hushed_world(scene, gull, &pose));
  CHECK(is_near(pose.position[0], 0.0));

  const char* const tags[] = {"small"};
  const hushed_new_object description = {"raft", gull, hushed_pose_at(0, 1, 0), HUSHED_INHERIT_ALL, tags, 1, 99};
  hushed_object raft = 0;
  OK(hushed_add(scene, &description, &raft));
  OK(hushed_give(scene, raft, "kind = \"travel\"\nvelocity = [2, 0, 0]"));
  OK(hushed_advance(scene, 0.5));
  OK(hushed_local(scene, raft, &pose));
  CHECK(is_near(pose.position[0], 1.0));
  uint64_t number = 0;
  OK(hushed_number(scene, raft, &number));
  CHECK(number == 99);
  OK(hushed_set_parent(scene, raft, 0, 1));
  OK(hushed_end(scene, gull));
  int32_t alive = 1;
  OK(hushed_is_alive(scene, gull, &alive));
  CHECK(alive == 0);
  CHECK(hushed_world(scene, gull, &pose) == HUSHED_STALE_HANDLE);
  OK(hushed_world(scene, raft, &pose));

  hushed_scene other = 0;
  OK(hushed_scene_new(60, 0, &other));
  CHECK(hushed_world(other, raft, &pose) == HUSHED_STALE_HANDLE);
  OK(hushed_scene_free(other));
  CHECK(hushed_scene_free(other) == HUSHED_STALE_HANDLE);
  CHECK(hushed_advance(other, 1) == HUSHED_STALE_HANDLE);
  CHECK(hushed_advance(0, 1) == HUSHED_STALE_HANDLE);
  OK(hushed_scene_free(scene));
}

/* --- errors --------------------------------------------------------------------------------------------------------
 */

static void test_errors(void) {
  hushed_scene scene = 0;
  CHECK(hushed_scene_load("missing.toml", 0, &scene) == HUSHED_LOAD_ERROR);
  CHECK(strcmp(hushed_error_at(0).file, "missing.toml") == 0);
  CHECK(hushed_scene_read("hushed = 1\n[object.a]\nparnet = \"b\"\n[object.b]\ntags = 3\n", "wrong.toml", 0, &scene) ==
        HUSHED_LOAD_ERROR);
  CHECK(hushed_error_count() == 2);
  CHECK(hushed_error_at(0).line == 3 && hushed_error_at(0).column == 1 && says("did you mean \"parent\"?"));
  CHECK(hushed_error_at(1).line == 5 && strcmp(hushed_error_at(1).file, "wrong.toml") == 0);
  CHECK(strcmp(hushed_error_at(2).text, "") == 0);

  OK(hushed_scene_new(120, 0, &scene));
  CHECK(hushed_error_count() == 0);
  CHECK(hushed_scene_new(0, 0, &scene) == HUSHED_BAD_VALUE);
  CHECK(hushed_find(scene, NULL, NULL) == HUSHED_BAD_VALUE && says("name is NULL"));
  CHECK(hushed_find(scene, "a", NULL) == HUSHED_BAD_VALUE);
  CHECK(hushed_advance(scene, -1) == HUSHED_BAD_VALUE && hushed_advance(scene, nan("")) == HUSHED_BAD_VALUE);
  CHECK(hushed_set(scene, "lamp.spin.speed", "60") == HUSHED_BAD_VALUE);
  CHECK(hushed_start(scene, "lamp.spin") == HUSHED_BAD_VALUE && says("no behaviour \"lamp.spin\""));
  const hushed_new_object description = {"lamp", 0, hushed_pose_at(0, 0, 0), HUSHED_INHERIT_ALL, NULL, 0, 0};
  hushed_object lamp = 0, again = 0;
  OK(hushed_add(scene, &description, &lamp));
  CHECK(hushed_add(scene, &description, &again) == HUSHED_BAD_VALUE && says("exists already") && again == 0);
  CHECK(hushed_give(scene, lamp, "kind = \"spin\"\nspede = 3") == HUSHED_LOAD_ERROR && says("did you mean \"speed\"?"));
  CHECK(hushed_error_at(0).line == 2);
  CHECK(hushed_give(scene, lamp, "kind = ") == HUSHED_LOAD_ERROR);
  CHECK(hushed_set_parent(scene, lamp, lamp, 1) == HUSHED_DEPENDENCY_CYCLE);
  const hushed_pose wrong = hushed_pose_at(nan(""), 0, 0);
  CHECK(hushed_set_rest(scene, lamp, &wrong) == HUSHED_BAD_VALUE);

  char name[3];
  size_t needed = 0;
  OK(hushed_name(scene, lamp, name, sizeof name, &needed));
  CHECK(strcmp(name, "la") == 0 && needed == 5);
  OK(hushed_name(scene, lamp, NULL, 0, &needed));
  CHECK(hushed_name(scene, lamp, NULL, 9, &needed) == HUSHED_BAD_VALUE);
  OK(hushed_scene_free(scene));
}

/* --- values, input and events --------------------------------------------------------------------------------------
 */

static void test_values(void) {
  hushed_scene scene = 0;
  OK(hushed_scene_read(quay, "quay.toml", 0, &scene));
  double speed = 0;
  OK(hushed_get_double(scene, "lamp.spin.speed", &speed));
  CHECK(speed == 40);
  OK(hushed_set_double(scene, "lamp.spin.speed", 50));
  OK(hushed_set(scene, "lamp.spin.axis", "[0, 0, 1]"));
  char text[40];
  OK(hushed_get(scene, "lamp.spin.axis", text, sizeof text, NULL));
  CHECK(strcmp(text, "[0, 0, 1]") == 0 || strcmp(text, "\"z\"") == 0 || strcmp(text, "z") == 0);
  CHECK(hushed_get_double(scene, "gull.follow.offset", &speed) == HUSHED_BAD_VALUE);
  OK(hushed_reset(scene, "lamp.spin.axis"));
  OK(hushed_stop(scene, "lamp.spin"));
  OK(hushed_start(scene, "lamp.spin"));

  OK(hushed_raise(scene, "hello"));
  OK(hushed_advance(scene, 0.1));
  OK(hushed_get_double(scene, "lamp.spin.speed", &speed));
  CHECK(speed == 90);
  size_t count = 0;
  OK(hushed_event_count(scene, &count));
  int fired = 0;
  for (size_t i = 0; i < count; ++i) {
    hushed_event event;
    OK(hushed_event_at(scene, i, &event));
    if (strcmp(event.name, "fired") == 0) fired += strcmp(event.rule, "greet") == 0;
  }
  CHECK(fired == 1);
  hushed_event event;
  CHECK(hushed_event_at(scene, count, &event) == HUSHED_BAD_VALUE);
  OK(hushed_press(scene, "W"));
  CHECK(hushed_axis(scene, "forward", 2) == HUSHED_BAD_VALUE);
  OK(hushed_scene_free(scene));
}

/* --- commands ------------------------------------------------------------------------------------------------------
 */

/* The positions follow from the formulas of docs/reference/behaviours.md. After a change that would jump, the
 * difference fades away within a second. */
static const char* const dock =
    "hushed = 1\n"
    "[object.ferry]\n[[object.ferry.behaviour]]\nkind = \"travel\"\nvelocity = [2, 0, 0]\n"
    "[object.flag.pose.up]\nposition = [0, 4, 0]\n[object.flag]\n"
    "[object.buoy]\n[[object.buoy.behaviour]]\nkind = \"spring\"\nfrequency = 0.5\ndamping = 1\n"
    "[object.pilot]\nfed = true\n[object.launch]\nfed = true\n[object.post]\nposition = [9, 0, 0]\n"
    "[object.gull]\n[[object.gull.behaviour]]\nkind = \"follow\"\ntarget = \"pilot\"\nhalf_life = 0\n"
    "[[rule]]\nname = \"lower\"\nwhen = { released = \"H\" }\ndo = { stop = \"ferry.travel\" }\n";

static double along_x(hushed_scene scene, const char* name) {
  hushed_object object = 0;
  hushed_pose pose = hushed_pose_at(nan(""), 0, 0);
  OK(hushed_find(scene, name, &object));
  OK(hushed_world(scene, object, &pose));
  return pose.position[0];
}

static void test_commands(void) {
  hushed_scene scene = 0;
  OK(hushed_scene_read(dock, "dock.toml", 0, &scene));
  OK(hushed_set_threads(scene, 2));
  CHECK(hushed_set_threads(scene, 0) == HUSHED_BAD_VALUE && hushed_set_threads(scene, 65) == HUSHED_BAD_VALUE);
  hushed_object ferry = 0, flag = 0, buoy = 0;
  OK(hushed_find(scene, "ferry", &ferry));
  OK(hushed_find(scene, "flag", &flag));
  OK(hushed_find(scene, "buoy", &buoy));

  OK(hushed_advance(scene, 1));
  CHECK(is_near(along_x(scene, "ferry"), 2));
  OK(hushed_toggle(scene, "ferry.travel"));
  OK(hushed_advance(scene, 1));
  CHECK(is_near(along_x(scene, "ferry"), 2));
  OK(hushed_toggle(scene, "ferry.travel"));
  OK(hushed_advance(scene, 1));
  CHECK(is_near(along_x(scene, "ferry"), 4));
  OK(hushed_restart(scene, "ferry.travel"));
  CHECK(is_near(along_x(scene, "ferry"), 4)); /* it does not jump */
  OK(hushed_advance(scene, 5));
  CHECK(is_near(along_x(scene, "ferry"), 10));
  OK(hushed_set_pace(scene, ferry, 0.25));
  OK(hushed_advance(scene, 2));
  CHECK(is_near(along_x(scene, "ferry"), 11));
  CHECK(hushed_set_pace(scene, ferry, -1) == HUSHED_BAD_VALUE);
  OK(hushed_seek(scene, 8.5));
  CHECK(is_near(along_x(scene, "ferry"), 10.25));
  OK(hushed_set_pace(scene, ferry, 1));
  OK(hushed_press(scene, "H"));
  OK(hushed_advance(scene, 1));
  CHECK(is_near(along_x(scene, "ferry"), 12.25));
  OK(hushed_release(scene, "H"));
  OK(hushed_advance(scene, 1));
  const double stopped = along_x(scene, "ferry"); /* at one of the next two ticks */
  CHECK(stopped >= 12.25 && stopped <= 12.25 + 2 * 2.0 / 120 + 1e-9);

  hushed_pose pose;
  OK(hushed_place(scene, flag, "up"));
  OK(hushed_world(scene, flag, &pose));
  CHECK(is_near(pose.position[1], 4));
  CHECK(hushed_place(scene, flag, "upp") == HUSHED_BAD_VALUE && says("\"up\""));

  const double pi = acos(-1.0), push[3] = {0, 3, 0};
  OK(hushed_kick(scene, "buoy.spring", push));
  OK(hushed_advance(scene, 0.5));
  OK(hushed_world(scene, buoy, &pose)); /* v t e^(-wt) with w = 2 pi 0.5 */
  CHECK(is_near(pose.position[1], 3 * 0.5 * exp(-pi * 0.5)));
  CHECK(hushed_kick(scene, "ferry.travel", push) == HUSHED_BAD_VALUE);

  OK(hushed_remove(scene, "ferry.travel"));
  CHECK(hushed_start(scene, "ferry.travel") == HUSHED_BAD_VALUE);
  OK(hushed_advance(scene, 5));
  CHECK(is_near(along_x(scene, "ferry"), 0));

  uint64_t number = 1;
  OK(hushed_number(scene, flag, &number));
  CHECK(number == 0);
  OK(hushed_set_number(scene, flag, UINT64_MAX));
  OK(hushed_number(scene, flag, &number));
  CHECK(number == UINT64_MAX);
  OK(hushed_scene_free(scene));
}

static void test_feeding(void) {
  hushed_scene scene = 0;
  OK(hushed_scene_read(dock, "dock.toml", 0, &scene));
  hushed_object pilot = 0, launch = 0, post = 0;
  OK(hushed_find(scene, "pilot", &pilot));
  OK(hushed_find(scene, "launch", &launch));
  OK(hushed_find(scene, "post", &post));

  const hushed_pose far = hushed_pose_at(10, 0, 0), nearer = hushed_pose_at(6, 0, 0);
  OK(hushed_feed_at(scene, pilot, &far, 2));
  OK(hushed_advance(scene, 0.5));
  CHECK(is_near(along_x(scene, "pilot"), 2.5));
  CHECK(hushed_feed_at(scene, pilot, &far, 0.5) == HUSHED_BAD_VALUE && says("give one after the present time"));
  OK(hushed_advance(scene, 3));
  CHECK(is_near(along_x(scene, "pilot"), 10) && is_near(along_x(scene, "gull"), 10));
  OK(hushed_teleport(scene, pilot, &nearer));
  CHECK(is_near(along_x(scene, "pilot"), 6));

  const hushed_object both[2] = {pilot, launch}, wrong[3] = {launch, post, pilot};
  const hushed_pose poses[3] = {hushed_pose_at(7, 0, 0), hushed_pose_at(8, 0, 0), hushed_pose_at(1, 0, 0)};
  OK(hushed_feed_all(scene, both, poses, 2));
  OK(hushed_advance(scene, 0.1));
  CHECK(is_near(along_x(scene, "pilot"), 7) && is_near(along_x(scene, "launch"), 8));
  CHECK(hushed_feed_all(scene, wrong, poses, 3) == HUSHED_BAD_VALUE && says("post"));
  OK(hushed_advance(scene, 0.1));
  CHECK(is_near(along_x(scene, "launch"), 7) && is_near(along_x(scene, "pilot"), 7)); /* those before it were fed */
  CHECK(hushed_feed_all(scene, NULL, poses, 2) == HUSHED_BAD_VALUE);
  OK(hushed_feed_all(scene, NULL, NULL, 0));

  /* A follower holds while its target is hidden, and reads another target where it is told to. */
  OK(hushed_advance(scene, 1));
  OK(hushed_hide(scene, pilot));
  OK(hushed_feed(scene, pilot, &far));
  OK(hushed_advance(scene, 1));
  CHECK(is_near(along_x(scene, "gull"), 7));
  OK(hushed_show(scene, pilot));
  OK(hushed_advance(scene, 2));
  CHECK(is_near(along_x(scene, "gull"), 10));
  OK(hushed_retarget(scene, "gull.follow", post));
  OK(hushed_advance(scene, 2));
  CHECK(is_near(along_x(scene, "gull"), 9));

  const double by[3] = {1e6, 0, 0};
  double origin[3] = {1, 1, 1};
  OK(hushed_shift_origin(scene, by));
  OK(hushed_origin(scene, origin));
  CHECK(origin[0] == 1e6 && origin[1] == 0 && origin[2] == 0);
  CHECK(is_near(along_x(scene, "gull"), 9 - 1e6));
  double* const matrices = calloc(16 * 7, sizeof *matrices);
  size_t index = 0;
  OK(hushed_index_of(scene, post, &index));
  const hushed_matrix_layout by_row = {0, 1, 1, {-1e6, 0.25, 0}};
  OK(hushed_write_matrices_double(scene, &by_row, matrices, 16 * 7));
  CHECK(is_near(matrices[16 * index + 3], 9) && is_near(matrices[16 * index + 7], -0.25));
  CHECK(matrices[16 * index + 15] == 1 && matrices[16 * index + 12] == 0);
  free(matrices);
  OK(hushed_scene_free(scene));
}

/* --- snapshots and reload ------------------------------------------------------------------------------------------
 */

static void test_snapshots(void) {
  hushed_scene scene = 0, other = 0;
  OK(hushed_scene_read(quay, "quay.toml", 0, &scene));
  OK(hushed_scene_read(quay, "quay.toml", 0, &other));
  hushed_object lamp = 0, lamp_of_other = 0;
  OK(hushed_find(scene, "lamp", &lamp));
  OK(hushed_find(other, "lamp", &lamp_of_other));
  OK(hushed_set_double(scene, "lamp.spin.speed", 77));
  OK(hushed_advance(scene, 1.25));
  hushed_snapshot taken = 0, read = 0;
  OK(hushed_snapshot_take(scene, &taken));
  size_t size = 0;
  OK(hushed_snapshot_to_bytes(taken, NULL, 0, &size));
  unsigned char* bytes = malloc(size);
  OK(hushed_snapshot_to_bytes(taken, bytes, size, NULL));
  OK(hushed_snapshot_from_bytes(other, bytes, size, &read));
  OK(hushed_snapshot_restore(other, read));
  OK(hushed_advance(scene, 0.7));
  OK(hushed_advance(other, 0.7));
  hushed_pose a, b;
  OK(hushed_world(scene, lamp, &a));
  OK(hushed_world(other, lamp_of_other, &b));
  CHECK(memcmp(&a, &b, sizeof a) == 0);
  bytes[size / 2] ^= 1U;
  CHECK(hushed_snapshot_from_bytes(other, bytes, size, &read) == HUSHED_BAD_VALUE && says("damaged"));
  free(bytes);
  OK(hushed_snapshot_restore(scene, taken));
  double seconds = 0;
  OK(hushed_time(scene, &seconds));
  CHECK(is_near(seconds, 1.25));
  OK(hushed_snapshot_free(taken));
  CHECK(hushed_snapshot_restore(scene, taken) == HUSHED_STALE_HANDLE);
  OK(hushed_scene_free(other));

  FILE* file = fopen("quay.toml", "w");
  CHECK(file != NULL);
  if (!file) return;
  fputs(quay, file);
  fclose(file);
  size_t lost = 7;
  const hushed_new_object raft = {NULL, 0, hushed_pose_at(1, 2, 3), HUSHED_INHERIT_ALL, NULL, 0, 0};
  hushed_object added = 0;
  OK(hushed_add(scene, &raft, &added));
  OK(hushed_reload(scene, "quay.toml", HUSHED_KEEP_CHANGES, &lost));
  CHECK(lost == 0);
  OK(hushed_world(scene, added, &a));
  CHECK(is_near(a.position[2], 3.0));
  hushed_prepared prepared = 0;
  OK(hushed_prepare("quay.toml", 0, &prepared));
  OK(hushed_adopt(scene, prepared, HUSHED_DROP_CHANGES, &lost));
  CHECK(lost == 1);
  char sentence[80];
  OK(hushed_lost_at(scene, 0, sentence, sizeof sentence, NULL));
  CHECK(strstr(sentence, "no longer exists") != NULL);
  CHECK(hushed_adopt(scene, prepared, HUSHED_KEEP_CHANGES, NULL) == HUSHED_STALE_HANDLE);
  OK(hushed_prepare("quay.toml", 0, &prepared));
  OK(hushed_prepared_free(prepared));
  CHECK(hushed_prepared_free(prepared) == HUSHED_STALE_HANDLE);
  CHECK(hushed_adopt(scene, prepared, HUSHED_KEEP_CHANGES, NULL) == HUSHED_STALE_HANDLE);
  CHECK(hushed_world(scene, added, &a) == HUSHED_STALE_HANDLE);
  CHECK(hushed_reload(scene, "quay.toml", 9, NULL) == HUSHED_BAD_VALUE);
  remove("quay.toml");
  OK(hushed_scene_free(scene));
}

/* --- kinds ---------------------------------------------------------------------------------------------------------
 */

/* Rises by `step` at each tick, above another object; fails above 10 m. */
static void begin_lift(void* user, const double* numbers, const hushed_object* objects, double* memory,
                       hushed_pose* pose, const hushed_moment* now) {
  (void)user, (void)numbers, (void)objects, (void)now;
  memory[0] = pose->position[1];
}

static void apply_lift(void* user, const double* numbers, const hushed_object* objects, double* memory,
                       hushed_pose* pose, const hushed_moment* now) {
  hushed_pose below;
  if (hushed_moment_world(now, objects[0], &below) != HUSHED_OK) {
    hushed_moment_fail(now, "no shaft");
    return;
  }
  if (now->step > 0) memory[0] += numbers[0];
  if (memory[0] > 10) {
    hushed_moment_fail(now, "too high");
    return;
  }
  pose->position[0] = below.position[0] + numbers[1] * *(double*)user;
  pose->position[1] = memory[0];
}

static int released = 0;
static void release(void* user) {
  (void)user;
  ++released;
}

static const char* const tower =
    "hushed = 1\n[scene]\ntick_rate = 10\n[object.shaft]\nposition = [7, 0, 0]\n[object.cabin]\nposition = [0, 3, 0]\n"
    "[[object.cabin.behaviour]]\nkind = \"lift\"\nshaft = \"shaft\"\n";

static void test_kinds(void) {
  static double factor = 2;
  const hushed_field fields[] = {{"step", HUSHED_NUMBER, {0.5, 0, 0}, 0, 1, "m", "a tick", NULL, 0},
                                 {"aside", HUSHED_VECTOR, {1, 0, 0}, 0, 0, NULL, NULL, NULL, 0},
                                 {"shaft", HUSHED_OBJECT, {0, 0, 0}, 0, 0, NULL, NULL, NULL, 0}};
  hushed_kind lift = {"lift", "rises", fields, 3, 1, begin_lift, apply_lift, &factor, 0, release};
  hushed_kinds kinds = 0;
  OK(hushed_kinds_new(&kinds));
  OK(hushed_kinds_add(kinds, &lift));
  CHECK(hushed_kinds_add(kinds, &lift) == HUSHED_BAD_VALUE && says("exists already"));
  lift.name = "spin";
  CHECK(hushed_kinds_add(kinds, &lift) == HUSHED_BAD_VALUE);
  lift.apply = NULL;
  CHECK(hushed_kinds_add(kinds, &lift) == HUSHED_BAD_VALUE && says("apply is NULL"));
  const int released_before = released;

  hushed_scene scene = 0;
  CHECK(hushed_scene_read(tower, "tower.toml", 0, &scene) == HUSHED_LOAD_ERROR && says("unknown kind \"lift\""));
  OK(hushed_scene_read(tower, "tower.toml", kinds, &scene));
  OK(hushed_kinds_free(kinds));
  hushed_object cabin = 0;
  OK(hushed_find(scene, "cabin", &cabin));
  OK(hushed_advance(scene, 1));
  hushed_pose pose;
  OK(hushed_world(scene, cabin, &pose));
  CHECK(is_near(pose.position[0], 9) && is_near(pose.position[1], 8));
  OK(hushed_set_double(scene, "cabin.lift.step", 1));
  CHECK(hushed_set_double(scene, "cabin.lift.step", 2) == HUSHED_BAD_VALUE && says("out of range"));
  OK(hushed_advance(scene, 0.2));
  OK(hushed_world(scene, cabin, &pose));
  CHECK(is_near(pose.position[1], 10));
  OK(hushed_advance(scene, 0.1));
  size_t count = 0;
  OK(hushed_event_count(scene, &count));
  hushed_event event;
  CHECK(count == 1);
  OK(hushed_event_at(scene, 0, &event));
  CHECK(strcmp(event.name, "failed") == 0 && strcmp(event.behaviour, "cabin.lift") == 0);
  CHECK(strcmp(event.sentence, "cabin.lift failed: too high") == 0);
  CHECK(released == released_before);
  OK(hushed_scene_free(scene));
  CHECK(released == released_before + 1);
}

/* --- play mode -----------------------------------------------------------------------------------------------------
 */

static void test_live(void) {
  hushed_scene scene = 0;
  hushed_live live = 0;
  OK(hushed_scene_read(quay, "quay.toml", 0, &scene));
  OK(hushed_live_new(scene, 0, &live));
  char address[200];
  OK(hushed_live_address(live, address, sizeof address, NULL));
  CHECK(strncmp(address, "http://127.0.0.1:", 17) == 0);
  OK(hushed_live_serve(live, 0.25));
  double seconds = 0;
  OK(hushed_time(scene, &seconds));
  CHECK(is_near(seconds, 0.25)); /* without a page, it advances */
  CHECK(hushed_scene_free(scene) == HUSHED_BAD_VALUE && says("hushed_live_free"));
  OK(hushed_live_free(live));
  CHECK(hushed_live_serve(live, 0.1) == HUSHED_STALE_HANDLE);
  OK(hushed_scene_free(scene));
}

int main(void) {
  test_scenes();
  test_errors();
  test_values();
  test_commands();
  test_feeding();
  test_snapshots();
  test_kinds();
  test_live();
  printf("%d of %d checks passed; version %s\n", checks - failures, checks, hushed_version());
  return failures == 0 ? 0 : 1;
}
