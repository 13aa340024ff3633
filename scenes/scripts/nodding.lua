-- A bell buoy: nods on the swell, and rises with it. A function of time.
about = "nods on the swell, and rises with it"

fields = {
  { "height", 0.4, unit = "m", range = { 0, 20 }, slider = { 0, 2 }, help = "how far it rises and falls" },
  { "lean", 12, unit = "deg", range = { 0, 90 }, slider = { 0, 45 }, help = "how far it tips over" },
  { "period", 6, unit = "s", range = { 0.1, 600 }, slider = { 2, 12 }, help = "time for one wave" },
}

function apply(pose, now, my)
  local along = 360 * now.since_start / my.period
  pose.position = pose.position + vector(0, my.height * sin(along), 0)
  pose.rotation = rotation(vector(0, 0, 1), my.lean * cos(along)) * pose.rotation
end
