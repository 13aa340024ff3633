// SPDX-License-Identifier: MIT
// hushed live: play mode in the browser.

#include <arpa/inet.h>

#include <algorithm>
#include <cctype>
#include <memory>
#include <string>

#include <fmt/format.h>

#include <hushed/live_server.hpp>

#include "command.hpp"
#include "output.hpp"
#include "playing.hpp"

namespace hushed::cli {

namespace {

struct LiveCommand {
  std::string scene;
  int port = 0;
  LiveOptions options;
};

int run(const LiveCommand& command) {
  LiveOptions options = command.options;
  options.port = static_cast<std::uint16_t>(command.port);
  if (options.host == "localhost") options.host = "127.0.0.1";
  const Kinds known = kinds_and_scripts();
  options.kinds = &known;
  LiveServer server{std::filesystem::path{command.scene}, options};
  listen_for_stop();
  Output output;
  output.write(server.address() + '\n');
  output.flush();
  fmt::print(stderr, "hushed: open this address in a browser; Ctrl+C stops the server.\n");
  server.run([] { return !stop_asked(); });
  return done;
}

}  // namespace

void add_live(CLI::App& app, int& status) {
  const auto command = std::make_shared<LiveCommand>();
  CLI::App* live = app.add_subcommand("live", "Play mode in the browser: play, step, tune, keep");
  live->add_option("SCENE", command->scene, "the scene file")->required();
  live->add_option("--port", command->port, "port of the server; 0 chooses a free one")
      ->check(whole_number_from(0, 65535))
      ->capture_default_str();
  live->add_option("--host", command->options.host,
                   "address of the server; anything but 127.0.0.1 and ::1 lets other computers connect")
      ->check([](const std::string& host) {
        if (host == "localhost") return std::string{};
        in6_addr address;
        const bool is_one =
            inet_pton(AF_INET, host.c_str(), &address) == 1 || inet_pton(AF_INET6, host.c_str(), &address) == 1;
        return is_one ? std::string{}
                      : "found " + in_quotes(host) + "; give an IP address of this computer, such as 127.0.0.1";
      })
      ->capture_default_str();
  live->add_option("--fps", command->options.per_second, "frames per second")
      ->check(number_from(1.0, 1e6))
      ->capture_default_str();
  live->add_option("--feed", command->options.feed,
                   "a recording (.csv, .jsonl, .glb or .gltf) with the poses of objects that have fed = true")
      ->type_name("FILE");
  live->add_option("--tabs", command->options.most_tabs, "largest number of open tabs")
      ->check(whole_number_from(1, 24))
      ->capture_default_str();
  live->add_option("--token", command->options.token,
                   "access token in the address, instead of a random one: 16 to 128 letters and digits")
      ->check([](const std::string& word) {
        const auto is_plain = [](unsigned char letter) { return std::isalnum(letter) != 0; };
        const bool is_good = word.size() >= 16 && word.size() <= 128 && std::all_of(word.begin(), word.end(), is_plain);
        return std::string{
            is_good ? ""
                    : "the token is too short, too long or has other characters; give 16 to 128 letters and digits"};
      });
  live->add_flag("--play", command->options.plays, "start playing when the first tab connects");
  live->footer(
      "\nThe address contains a random token. Whoever knows it can watch, tune, and write tuned values into\n"
      "the scene file. The page follows when you save the file in an editor.\n\n"
      "Example:\n"
      "  hushed live scenes/harbour.toml");
  live->callback([command, &status] { status = run(*command); });
}

}  // namespace hushed::cli
