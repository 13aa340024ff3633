-- A launch that circles another boat. It reads the boat's place, so it is evaluated after it.
about = "circles another boat, and breathes"

fields = {
  { "round", object, help = "which boat" },
  { "radius", 8, unit = "m", range = { 0, 1000 }, slider = { 2, 30 }, help = "mean distance" },
  { "breath", 0.25, range = { 0, 1 }, slider = { 0, 1 }, help = "share of the radius that comes and goes" },
  { "lap", 20, unit = "s", range = { 0.1, 3600 }, slider = { 5, 60 }, help = "time for one round" },
}

function apply(pose, now, my)
  local along = 360 * now.since_start / my.lap
  local away = my.radius * (1 + my.breath * sin(along / 3))
  pose.position = where(my.round) + vector(away * cos(along), 0, away * sin(along))
  pose.rotation = rotation(vector(0, 1, 0), -along)
end
