// SPDX-License-Identifier: MIT
// Collects the messages that bad input provokes in tests/messages.txt, to be read and reviewed as a text. The test
// fails where they differ from that file; `make messages` writes them into it.

#include <array>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <functional>
#include <iterator>
#include <map>
#include <sstream>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <hushed/check.hpp>
#include <hushed/hushed.hpp>
#include <hushed/key_file.hpp>
#include <hushed/load.hpp>
#include <hushed/recording_file.hpp>
#include <hushed/watch.hpp>

#include "session.hpp"

namespace hushed::tests {
namespace {

const std::filesystem::path folder = SOURCES "/tests";

std::string content_of(const std::filesystem::path& file) {
  std::ifstream in{file};
  return {std::istreambuf_iterator<char>{in}, {}};
}

std::string with_lines(std::string text) {
  for (std::size_t at; (at = text.find(" / ")) != std::string::npos;) text.replace(at, 3, "\n");
  return text + '\n';
}

/// The text of the exception that `code` throws.
std::string message_of(const std::function<void()>& code) {
  try {
    code();
  } catch (const std::exception& error) {
    return error.what();
  }
  return "accepted";
}

constexpr const char* small_harbour =
    "hushed = 1\n"
    "object.ferry = {}\n"
    "object.lamp.behaviour = [{ kind = \"spin\" }]\n"
    "preset.turning.behaviour = [{ kind = \"spin\" }]\n";

std::string read_as_file(const std::string& name, const std::string& content,
                         const std::function<void(const std::filesystem::path&)>& read) {
  const auto file = std::filesystem::temp_directory_path() / ("messages-" + std::to_string(getpid()) + '-' + name);
  std::ofstream{file} << content;
  std::string message = message_of([&] { read(file); });
  std::filesystem::remove(file);
  for (std::size_t at; (at = message.find(file.string())) != std::string::npos;)
    message.replace(at, file.string().size(), name);
  return message;
}

std::string answer_of(const std::string& request) {
  const auto file = std::filesystem::temp_directory_path() / ("messages-" + std::to_string(getpid()) + ".toml");
  std::ofstream{file} << small_harbour;
  detail::OpenFile open{file, read_scene_file(file), SceneSource{file}};
  detail::Session session{open};
  session.begin({}, false);
  std::string text = "accepted";
  for (const auto& answer : session.handle(0, request)) {
    if (answer.message.kind != detail::Message::Kind::text) continue;
    const auto json = detail::Json::parse(answer.message.content);
    if (json["kind"] == "refused") text = json["text"].get<std::string>();
  }
  std::filesystem::remove(file);
  return text;
}

/// What the command prints to standard error, and its exit status.
std::string run(const std::string& command) {
  const std::string whole =
      "cd '" SOURCES "' && { " TOOL + command.substr(std::string{"hushed"}.size()) + "; } 2>&1 >/dev/null";
  const bool is_redirected = command.find('>') != std::string::npos;
  FILE* pipe =
      popen((is_redirected ? "cd '" SOURCES "' && { " TOOL + command.substr(6) + "; } 2>&1" : whole).c_str(), "r");
  std::string output;
  std::array<char, 4096> part{};
  while (const std::size_t count = fread(part.data(), 1, part.size(), pipe)) output.append(part.data(), count);
  const int status = pclose(pipe);
  return output + "exit status " + std::to_string(WIFEXITED(status) ? WEXITSTATUS(status) : -1);
}

std::string message(const std::string& section, const std::string& input) {
  if (section.starts_with("scene file")) {
    const std::string text = with_lines(input);
    const bool is_whole = section.find("document") != std::string::npos;
    return message_of([&] { read_scene_text(is_whole ? text : "hushed = 1\n" + text, "scene.toml"); });
  }
  if (section == "key file")
    return read_as_file("keys.csv", "time,key,change\n" + with_lines(input),
                        [](const auto& file) { read_key_file(file); });
  if (section.starts_with("recording"))
    return read_as_file("a.csv", with_lines(input), [](const auto& file) { read_recording(file); });
  if (section == "easing") return message_of([&] { Easing::parse(input); });
  if (section == "watch") return message_of([&] { Watch{input, read_scene_text(small_harbour, "scene.toml").scene}; });
  if (section == "value")
    return message_of([&] {
      const std::size_t equals = input.find(" = ");
      read_scene_text(small_harbour, "scene.toml")
          .scene.set(input.substr(0, equals), parse_value(input.substr(equals + 3)));
    });
  if (section == "request") return answer_of(input);
  return run(input);
}

/// Calls of the C++ interface that are refused.
std::string messages_of_calls() {
  struct Call {
    const char* code;
    std::function<void(Scene&)> run;
  };
#define CALL(...)                                                       \
  Call {                                                                \
#__VA_ARGS__, []([[maybe_unused]] Scene & harbour) { __VA_ARGS__; } \
  }
  const std::vector<Call> calls {
    CALL(Scene{0.0}), CALL(harbour.add({.name = "lamp"})), CALL(harbour.add({.name = "the lamp"})),
        CALL(harbour.add({.name = "bell", .rest = at(0, 2e9, 0)})), CALL(harbour.world(Object{})),
        CALL(harbour.give(Object{99, 1, 0}, Spin{})), CALL(harbour.tune(Behaviour<Spin>{})),
        CALL(harbour.give(*harbour.find("lamp"), Spin{})), CALL(harbour.give(*harbour.find("ferry"), Orbit{})),
        CALL(harbour.give(*harbour.find("ferry"), Spring{.damping = -1.0})),
        CALL(harbour.give(*harbour.find("ferry"), Follow{.target = *harbour.find("ferry")})),
        CALL(harbour.give(*harbour.find("ferry"), Steer{})), CALL(harbour.when(pressed("")).then(raise("horn"))),
        CALL(harbour.use(*harbour.find("ferry"), "turnnig")),
        CALL(harbour.kick(*harbour.find_behaviour("lamp.spin"), {0, 1, 0})),
        CALL(harbour.retarget(*harbour.find_behaviour("lamp.spin"), *harbour.find("ferry"))),
        CALL(harbour.place(*harbour.find("ferry"), "quay")), CALL(harbour.raise("")), CALL(harbour.press("")),
        CALL(harbour.axis("forward", 2.0)),
        CALL(harbour.advance(std::chrono::seconds{1}); harbour.input({Time{0}, "H", InputChange::What::down})),
        CALL(harbour.when(closer_than("lamp", "ferry", -1.0)).then(raise("horn"))),
        CALL(harbour.when(above("lamp.speed", std::nan(""))).then(raise("horn"))), CALL(harbour.seek(Time{-1})),
        CALL(harbour.restore(Snapshot{})), CALL(harbour.restore(Scene{}.snapshot())), CALL(harbour.hot_reload(Scene{})),
        CALL(harbour.rule("horn")), CALL(std::vector<float> matrices(16); harbour.write_matrices(matrices)),
        CALL(frequency_with(Time{0}, 1.0)), CALL(harbour.set_threads(0)),
  };
#undef CALL
  std::string text;
  for (const Call& call : calls) {
    Scene harbour = read_scene_text(small_harbour, "scene.toml").scene;
    text += std::string{"    "} + call.code + '\n' + message_of([&] { call.run(harbour); }) + "\n\n";
  }
  return text;
}

std::string messages_of_corpus() {
  std::istringstream corpus{content_of(folder / "messages/corpus.txt")};
  std::string text, section;
  for (std::string line; std::getline(corpus, line);) {
    if (line.empty() || line.starts_with("# ")) continue;
    if (line.front() == '[') {
      section = line.substr(1, line.size() - 2);
      text += "== " + section + "\n\n";
    } else {
      text += "    " + line + '\n' + message(section, line) + "\n\n";
    }
  }
  return text;
}

/// The findings in the scene of mistakes, with their hints.
std::string messages_of_check() { return run("hushed check scenes/mistakes.toml 1>&2") + "\n\n"; }

TEST(Messages, AreThoseThatWereReviewed) {
  const std::string now =
      "Messages that bad input provokes. Written by `make messages`; read it whole when it changes.\n\n" +
      messages_of_corpus() + "== calls\n\n" + messages_of_calls() + "== check\n\n" + messages_of_check();
  const auto file = folder / "messages.txt";
  if (std::getenv("WRITE_MESSAGES")) std::ofstream{file} << now;
  EXPECT_EQ(now, content_of(file)) << "Read the differences; if they are right, run `make messages`.";
}

}  // namespace
}  // namespace hushed::tests
