// SPDX-License-Identifier: MIT
// Requests of clients, one a line, to a session of a small scene.

#include <hushed/load.hpp>

#include "fuzz.hpp"
#include "session.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace hushed;
  using detail::OpenFile;
  if (size > 2048) return 0;
  static const std::filesystem::path path = fuzz::file_with(
      "hushed = 1\n[object.lamp]\n[[object.lamp.behaviour]]\nkind = \"spin\"\n[object.pilot]\n"
      "[[object.pilot.behaviour]]\nkind = \"drive\"\n",
      ".live.toml");
  const std::string_view all = fuzz::text_of(data, size);
  if (all.find("keep") != all.npos) return 0;  // it would write the file
  OpenFile file{path, read_scene_file(path), SceneSource{path}};
  detail::Session session{file};
  session.limit_slices(std::chrono::microseconds{300});
  std::string_view rest = all;
  for (int client = 1; !rest.empty(); client = 3 - client) {
    const std::size_t end = std::min(rest.find('\n'), rest.size());
    (void)session.handle(client, rest.substr(0, end));
    rest.remove_prefix(std::min(end + 1, rest.size()));
    (void)session.pass(seconds(0.02));
  }
  (void)session.leave(1);
  (void)session.greet();
  return 0;
}
