-- Skerry Sound: where the buoys lie, and which of them has drifted.

local buoys = {
  { name = "fairway",   east = 0,    north = 0,    light = "white" },
  { name = "inner red", east = -310, north = 1240, light = "red" },
  { name = "inner green", east = 290, north = 1255, light = "green" },
  { name = "bend",      east = 420,  north = 2310, light = "white" },
  { name = "quay head", east = 380,  north = 2890, light = "red" },
}

--[[ The old list, kept until the chart is printed:
  { name = "wreck", east = -120, north = 800, light = "yellow" },
]]

local allowed = 25 -- metres

local function distance(buoy, east, north)
  local de = buoy.east - east
  local dn = buoy.north - north
  return math.sqrt(de * de + dn * dn)
end

local function find(name)
  for _, buoy in ipairs(buoys) do
    if buoy.name == name then
      return buoy
    end
  end
  return nil
end

local function report(name, east, north)
  local buoy = find(name)
  if not buoy then
    return "no buoy is called " .. name
  end
  local drift = distance(buoy, east, north)
  -- print("debug", name, drift)
  if drift > allowed then
    return string.format("%s has drifted %.0f m: "
      .. "tell the duty pilot", name, drift)
  end
  return string.format("%s lies well (%.0f m)", name, drift)
end

local seen = {
  { "fairway", 4, -3 },
  { "bend", 455, 2298 },
  { "wreck", -120, 800 },
}

for _, sighting in ipairs(seen) do
  print(report(sighting[1], sighting[2], sighting[3]))
end
