/* SPDX-License-Identifier: MIT */
#ifndef HUSHED_H
#define HUSHED_H

/* The interface for C, and for every language that can call C. Link libhushed.so (pkg-config hushed).
 *
 *     hushed_scene harbour;
 *     if (hushed_scene_load("scenes/harbour.toml", 0, &harbour) != HUSHED_OK) puts(hushed_error_at(0).text);
 *     hushed_object ferry;
 *     hushed_find(harbour, "ferry", &ferry);
 *     hushed_advance(harbour, 1.0 / 60.0);
 *     hushed_pose pose;
 *     hushed_world(harbour, ferry, &pose);
 *
 * Every function that can fail returns a status. What went wrong can be read by `hushed_error_at` until the next call on
 * the same thread. Results are written through the last pointer, and only where the status is HUSHED_OK.
 *
 * Handles are numbers; 0 is none. A handle of something that has ended or was freed is an error, not a crash.
 *
 * Text is UTF-8 and ends with a zero byte. Functions that return text write at most `size` bytes to `to`, always with a
 * zero at the end where `size` is not 0, and return the size that the whole text needs through `needed`, which may be
 * NULL. Arrays are the caller's; their sizes are numbers of items.
 *
 * Units are metres, seconds and degrees. A scene is right-handed, with Y up. A scene belongs to one thread at a time;
 * different scenes may be used on different threads at once. */

#include <stddef.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

#if defined(__GNUC__)
#define HUSHED_C_API __attribute__((visibility("default")))
#else
#define HUSHED_C_API
#endif

/* --- handles and results ----------------------------------------------------------------------------------------- */

typedef uint64_t hushed_scene;
typedef uint64_t hushed_object;
typedef uint64_t hushed_kinds;    /* a list of kinds of behaviours: see hushed_kinds_new */
typedef uint64_t hushed_snapshot; /* the state of a scene at a moment */
typedef uint64_t hushed_prepared; /* a scene file that has been read */
typedef uint64_t hushed_live;     /* a server of the page for play mode */

typedef int32_t hushed_status;
enum {
  HUSHED_OK = 0,
  HUSHED_BAD_VALUE = 1,        /* an argument, or a value for a behaviour, is not allowed */
  HUSHED_STALE_HANDLE = 2,     /* a handle of something that has ended, was freed, or is of another scene */
  HUSHED_DEPENDENCY_CYCLE = 3, /* an object would depend on itself */
  HUSHED_LOAD_ERROR = 4,       /* mistakes in a file, each with its place */
  HUSHED_ERROR = 5,            /* anything else */
  HUSHED_NO_MEMORY = 6
};

typedef struct hushed_error {
  const char* text; /* "" where there is no such error */
  const char* file; /* "" where it is not about a file */
  int32_t line;     /* from 1; 0 where it is not about a place */
  int32_t column;
} hushed_error;

/* The number of errors of the last call on this thread; 0 where it succeeded. */
HUSHED_C_API size_t hushed_error_count(void);
/* One of them, from 0. Its texts are valid until the next call on this thread. */
HUSHED_C_API hushed_error hushed_error_at(size_t number);

/* "0.1.0" */
HUSHED_C_API const char* hushed_version(void);

typedef struct hushed_pose {
  double position[3]; /* m */
  double rotation[4]; /* quaternion x, y, z, w, of length 1 */
  double scale[3];
} hushed_pose;

/* A pose without rotation, of scale 1. */
HUSHED_C_API hushed_pose hushed_pose_at(double x, double y, double z);

/* --- scenes ------------------------------------------------------------------------------------------------------ */

/* An empty scene. `tick_rate`: ticks a second, 1 to 10000, usually 120. `kinds`: what its behaviours may be of; 0 for the
 * built-in kinds. */
HUSHED_C_API hushed_status hushed_scene_new(double tick_rate, hushed_kinds kinds, hushed_scene* scene);
/* The scene of a file. */
HUSHED_C_API hushed_status hushed_scene_load(const char* file, hushed_kinds kinds, hushed_scene* scene);
/* The scene of the text of a file; `name` is its name in errors. */
HUSHED_C_API hushed_status hushed_scene_read(const char* text, const char* name, hushed_kinds kinds,
                                             hushed_scene* scene);
HUSHED_C_API hushed_status hushed_scene_free(hushed_scene scene);

/* Advances time by 0 s or more. */
HUSHED_C_API hushed_status hushed_advance(hushed_scene scene, double seconds);
HUSHED_C_API hushed_status hushed_time(hushed_scene scene, double* seconds);
HUSHED_C_API hushed_status hushed_seek(hushed_scene scene, double seconds);
/* Plays on 1 to 64 threads; the number changes no result. */
HUSHED_C_API hushed_status hushed_set_threads(hushed_scene scene, int32_t count);
/* Moves the origin of the world by some metres: positions in the world are less by it from then on. */
HUSHED_C_API hushed_status hushed_shift_origin(hushed_scene scene, const double by[3]);
HUSHED_C_API hushed_status hushed_origin(hushed_scene scene, double origin[3]);

/* What a reload does with what the program has added to a scene and changed in it. */
enum { HUSHED_KEEP_CHANGES = 0, HUSHED_DROP_CHANGES = 1 };

/* Reads a file again and replaces the content of a playing scene by it; time and state of what is unchanged stay.
 * `lost`: the number of sentences about what was lost, for hushed_lost_at; may be NULL. */
HUSHED_C_API hushed_status hushed_reload(hushed_scene scene, const char* file, int32_t changes, size_t* lost);
/* A reload in two steps: `hushed_prepare` reads and checks the file, in any thread, and `hushed_adopt` puts it into the
 * scene between two frames and frees `prepared`. */
HUSHED_C_API hushed_status hushed_prepare(const char* file, hushed_kinds kinds, hushed_prepared* prepared);
HUSHED_C_API hushed_status hushed_prepared_free(hushed_prepared prepared);
HUSHED_C_API hushed_status hushed_adopt(hushed_scene scene, hushed_prepared prepared, int32_t changes, size_t* lost);
/* A sentence about what the last reload of the scene has lost. */
HUSHED_C_API hushed_status hushed_lost_at(hushed_scene scene, size_t number, char* to, size_t size, size_t* needed);

/* --- objects ----------------------------------------------------------------------------------------------------- */

/* The parts of its parent's pose that an object inherits. */
enum { HUSHED_INHERIT_POSITION = 1, HUSHED_INHERIT_ROTATION = 2, HUSHED_INHERIT_SCALE = 4, HUSHED_INHERIT_ALL = 7 };

typedef struct hushed_new_object {
  const char* name;     /* NULL: it has none */
  hushed_object parent; /* 0: it is in the world */
  hushed_pose rest;     /* in the parent's space: its pose without behaviours */
  uint32_t inherit;
  const char* const* tags;
  size_t tag_count;
  uint64_t number; /* of your own */
} hushed_new_object;

HUSHED_C_API hushed_status hushed_add(hushed_scene scene, const hushed_new_object* description, hushed_object* object);
/* Ends, hides or shows an object with its children. */
HUSHED_C_API hushed_status hushed_end(hushed_scene scene, hushed_object object);
HUSHED_C_API hushed_status hushed_hide(hushed_scene scene, hushed_object object);
HUSHED_C_API hushed_status hushed_show(hushed_scene scene, hushed_object object);
/* The object of that name; 0 where there is none. */
HUSHED_C_API hushed_status hushed_find(hushed_scene scene, const char* name, hushed_object* object);
HUSHED_C_API hushed_status hushed_is_alive(hushed_scene scene, hushed_object object, int32_t* is_alive);
HUSHED_C_API hushed_status hushed_name(hushed_scene scene, hushed_object object, char* to, size_t size, size_t* needed);
HUSHED_C_API hushed_status hushed_set_rest(hushed_scene scene, hushed_object object, const hushed_pose* rest);
/* `parent`: 0 for the world. `keeps_world_pose`: 1, or 0 to keep the pose in the parent's space. */
HUSHED_C_API hushed_status hushed_set_parent(hushed_scene scene, hushed_object object, hushed_object parent,
                                             int32_t keeps_world_pose);
HUSHED_C_API hushed_status hushed_number(hushed_scene scene, hushed_object object, uint64_t* number);
HUSHED_C_API hushed_status hushed_set_number(hushed_scene scene, hushed_object object, uint64_t number);
/* Replaces the rest pose by one of the object's named poses. */
HUSHED_C_API hushed_status hushed_place(hushed_scene scene, hushed_object object, const char* pose);
/* The rate at which time passes for an object and its children: 0 to 100. */
HUSHED_C_API hushed_status hushed_set_pace(hushed_scene scene, hushed_object object, double rate);

/* --- poses ------------------------------------------------------------------------------------------------------- */

HUSHED_C_API hushed_status hushed_object_count(hushed_scene scene, size_t* count);
/* All objects, in the order of poses and matrices. `count` must be at least their number. */
HUSHED_C_API hushed_status hushed_objects(hushed_scene scene, hushed_object* to, size_t count);
HUSHED_C_API hushed_status hushed_index_of(hushed_scene scene, hushed_object object, size_t* index);
HUSHED_C_API hushed_status hushed_world(hushed_scene scene, hushed_object object, hushed_pose* pose);
/* The pose in the parent's space. */
HUSHED_C_API hushed_status hushed_local(hushed_scene scene, hushed_object object, hushed_pose* pose);
HUSHED_C_API hushed_status hushed_world_poses(hushed_scene scene, hushed_pose* to, size_t count);

typedef struct hushed_matrix_layout {
  int32_t z_is_up;        /* 0: Y is up */
  int32_t is_left_handed; /* 0: right-handed */
  int32_t by_row;         /* the order of the numbers; 0: column by column */
  double origin[3];       /* m: the point of the scene that becomes 0 */
} hushed_matrix_layout;

/* Writes a 4 by 4 matrix for each object. `count`: numbers, at least 16 for each object. `layout` may be NULL: Y up,
 * right-handed, by column, about the origin. */
HUSHED_C_API hushed_status hushed_write_matrices(hushed_scene scene, const hushed_matrix_layout* layout, float* to,
                                                 size_t count);
HUSHED_C_API hushed_status hushed_write_matrices_double(hushed_scene scene, const hushed_matrix_layout* layout,
                                                        double* to, size_t count);

/* Gives the pose that an object with the behaviour `fed` reaches at the end of the next advance. */
HUSHED_C_API hushed_status hushed_feed(hushed_scene scene, hushed_object object, const hushed_pose* pose);
/* Feeds several objects. Where one is refused, those before it have been fed. */
HUSHED_C_API hushed_status hushed_feed_all(hushed_scene scene, const hushed_object* objects, const hushed_pose* poses,
                                           size_t count);
/* Gives the pose that it reaches at a time to come. */
HUSHED_C_API hushed_status hushed_feed_at(hushed_scene scene, hushed_object object, const hushed_pose* pose,
                                          double seconds);
/* Moves a fed object at once: a jump. */
HUSHED_C_API hushed_status hushed_teleport(hushed_scene scene, hushed_object object, const hushed_pose* pose);

/* --- behaviours and values --------------------------------------------------------------------------------------- */

/* Gives an object a behaviour, written as its table in a scene file: "kind = \"spin\"\nspeed = 60". */
HUSHED_C_API hushed_status hushed_give(hushed_scene scene, hushed_object object, const char* text);
/* Takes a behaviour off its object. `path`: "lamp.spin". */
HUSHED_C_API hushed_status hushed_remove(hushed_scene scene, const char* path);
HUSHED_C_API hushed_status hushed_start(hushed_scene scene, const char* path);
HUSHED_C_API hushed_status hushed_stop(hushed_scene scene, const char* path);
HUSHED_C_API hushed_status hushed_restart(hushed_scene scene, const char* path);
HUSHED_C_API hushed_status hushed_toggle(hushed_scene scene, const char* path);
HUSHED_C_API hushed_status hushed_kick(hushed_scene scene, const char* path, const double by[3]);
HUSHED_C_API hushed_status hushed_retarget(hushed_scene scene, const char* path, hushed_object to);

/* Sets a value by its path, "lamp.spin.speed", as it is written in a file: "60", "[0, 1, 0]", "\"own\"". */
HUSHED_C_API hushed_status hushed_set(hushed_scene scene, const char* path, const char* value);
HUSHED_C_API hushed_status hushed_set_double(hushed_scene scene, const char* path, double value);
/* A value as it would be written in a file; "" where it is left out. */
HUSHED_C_API hushed_status hushed_get(hushed_scene scene, const char* path, char* to, size_t size, size_t* needed);
HUSHED_C_API hushed_status hushed_get_double(hushed_scene scene, const char* path, double* value);
/* Resets a value to its default. */
HUSHED_C_API hushed_status hushed_reset(hushed_scene scene, const char* path);

/* --- input and events -------------------------------------------------------------------------------------------- */

HUSHED_C_API hushed_status hushed_press(hushed_scene scene, const char* key);
HUSHED_C_API hushed_status hushed_release(hushed_scene scene, const char* key);
/* `value`: -1 to 1. */
HUSHED_C_API hushed_status hushed_axis(hushed_scene scene, const char* name, double value);
HUSHED_C_API hushed_status hushed_raise(hushed_scene scene, const char* event);

typedef struct hushed_event {
  double time;           /* s */
  const char* name;      /* "reached", "lost", "failed", "gathered", "fired", or what was raised */
  hushed_object subject; /* the object that it is about; 0 where there is none */
  hushed_object other;   /* the lost object, or the one that gathered; 0 otherwise */
  const char* behaviour; /* its path; "" where there is none */
  const char* rule;      /* the rule that fired or raised it; "" otherwise */
  const char* sentence;  /* the whole event */
  int32_t number;        /* of the point that was reached */
} hushed_event;

/* The events of the last advance. */
HUSHED_C_API hushed_status hushed_event_count(hushed_scene scene, size_t* count);
/* One of them, from 0. Its texts are valid until the next call for this scene that reads an event or advances. */
HUSHED_C_API hushed_status hushed_event_at(hushed_scene scene, size_t number, hushed_event* event);

/* --- snapshots --------------------------------------------------------------------------------------------------- */

/* The state at this moment, to go back to in the same scene. */
HUSHED_C_API hushed_status hushed_snapshot_take(hushed_scene scene, hushed_snapshot* snapshot);
HUSHED_C_API hushed_status hushed_snapshot_restore(hushed_scene scene, hushed_snapshot snapshot);
HUSHED_C_API hushed_status hushed_snapshot_free(hushed_snapshot snapshot);
/* A snapshot as bytes, for a saved game or another process. Writes at most `size` bytes, all or none; `needed` is their
 * number. */
HUSHED_C_API hushed_status hushed_snapshot_to_bytes(hushed_snapshot snapshot, void* to, size_t size, size_t* needed);
/* The snapshot that these bytes were written from, for a scene that was built by the same calls or from the same file. */
HUSHED_C_API hushed_status hushed_snapshot_from_bytes(hushed_scene scene, const void* bytes, size_t size,
                                                      hushed_snapshot* snapshot);

/* --- kinds of your own ------------------------------------------------------------------------------------------- */

/* A list of all built-in kinds, to which you may add. It may be freed once the scenes that use it are there. */
HUSHED_C_API hushed_status hushed_kinds_new(hushed_kinds* kinds);
HUSHED_C_API hushed_status hushed_kinds_free(hushed_kinds kinds);

enum { HUSHED_NUMBER = 0, HUSHED_BOOLEAN = 1, HUSHED_VECTOR = 2, HUSHED_WORD = 3, HUSHED_OBJECT = 4 };

typedef struct hushed_field {
  const char* name;
  int32_t type;
  double fallback[3]; /* the default: a number, 0 or 1, three numbers, or the index of a word */
  double low, high;   /* the range of numbers and of each of three; 0 and 0 for any */
  const char* unit;   /* shown beside it, such as "m"; may be NULL */
  const char* help;   /* may be NULL */
  const char* const* words;
  size_t word_count;
} hushed_field;

typedef struct hushed_moment {
  double time;        /* s, of the object */
  double since_start; /* s: the behaviour's own time */
  double step;        /* s since the last tick; 0 at its start */
  hushed_pose parent; /* the parent's pose in the world */
  const void* inside; /* for hushed_moment_world and hushed_moment_fail */
} hushed_moment;

/* Turns the pose from the behaviours below into the one for those above. `numbers`: the values of all fields but
 * objects, in their order, three for a vector. `objects`: those of the fields that are objects. `memory`: what it
 * remembers from tick to tick. It may call no function but the two below. It must depend on its arguments alone. */
typedef void (*hushed_apply)(void* user, const double* numbers, const hushed_object* objects, double* memory,
                             hushed_pose* pose, const hushed_moment* now);

typedef struct hushed_kind {
  const char* name; /* as in files */
  const char* summary;
  const hushed_field* fields;
  size_t field_count;
  size_t memory;       /* how many numbers it remembers; 0: a function of time */
  hushed_apply begin;  /* sets the numbers, which are 0, at a start; may be NULL */
  hushed_apply apply;  /* once a tick where it has memory, and for frames between two ticks with a copy */
  void* user;          /* passed to both */
  int32_t thread_safe; /* both may be called on any thread of the scene */
  void (*release)(void* user); /* called once no scene and no list uses the kind any more; may be NULL */
} hushed_kind;

HUSHED_C_API hushed_status hushed_kinds_add(hushed_kinds kinds, const hushed_kind* kind);

/* The pose in the world of one of the behaviour's objects, within `apply` or `begin`. */
HUSHED_C_API hushed_status hushed_moment_world(const hushed_moment* now, hushed_object object, hushed_pose* pose);
/* Says that the behaviour has failed: the incoming pose passes through, and the event "failed" has this text. */
HUSHED_C_API void hushed_moment_fail(const hushed_moment* now, const char* text);

/* --- play mode in the browser ------------------------------------------------------------------------------------ */

/* Serves the page of a scene on this machine. `port`: 0 for a free one. HUSHED_ERROR where the library was built without
 * the server. Free it before its scene. */
HUSHED_C_API hushed_status hushed_live_new(hushed_scene scene, uint16_t port, hushed_live* live);
HUSHED_C_API hushed_status hushed_live_address(hushed_live live, char* to, size_t size, size_t* needed);
/* In the place of hushed_advance: handles the page's requests too. */
HUSHED_C_API hushed_status hushed_live_serve(hushed_live live, double seconds);
HUSHED_C_API hushed_status hushed_live_free(hushed_live live);

#ifdef __cplusplus
}
#endif

#endif
