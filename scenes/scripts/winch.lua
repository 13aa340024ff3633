-- A winch: hauls its load to the height that is asked for, and lets it settle. It remembers how far it has hauled.
about = "hauls its load up or down, and lets it settle"

fields = {
  { "height", 3, unit = "m", range = { -100, 100 }, slider = { 0, 10 }, help = "where the load should hang" },
  { "speed", 1.5, unit = "m/s", range = { 0, 100 }, slider = { 0.1, 5 }, help = "how fast it hauls at most" },
  { "half_life", 0.4, unit = "s", range = { 0.001, 60 }, slider = { 0.05, 2 }, help = "until half of the rest is hauled" },
}

memory = { hauled = 0 }

function begin(pose, now, my, kept)
  kept.hauled = pose.position.y
end

function apply(pose, now, my, kept)
  local rest = my.height - kept.hauled
  local furthest = my.speed * now.step
  kept.hauled = kept.hauled + clamp(rest * (1 - exp2(-now.step / my.half_life)), -furthest, furthest)
  pose.position = vector(pose.position.x, kept.hauled, pose.position.z)
end
