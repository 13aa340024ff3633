// SPDX-License-Identifier: MIT
#include "exporting.hpp"

#include <algorithm>
#include <atomic>
#include <fstream>
#include <iterator>
#include <utility>

#include <unistd.h>

namespace hushed::detail {

namespace {

constexpr std::int64_t most_poses = 600'000;               ///< of all objects in all frames
constexpr std::size_t most_bytes = std::size_t{14} << 20;  ///< less than a client may leave unread
constexpr std::uint32_t file_kind = 4;                     ///< of the message

std::filesystem::path temporary_file(const std::string& extension) {
  static std::atomic<unsigned> count = 0;
  return std::filesystem::temp_directory_path() /
         ("hushed-" + std::to_string(getpid()) + '-' + std::to_string(++count) + extension);
}

void append(std::string& to, std::uint32_t number) {
  for (int i = 0; i < 4; ++i) to += static_cast<char>((number >> (8 * i)) & 0xFF);
}

}  // namespace

Message file_message(const std::string& name, const std::string& content) {
  Message message{{}, Message::Kind::bytes};
  append(message.content, file_kind);
  append(message.content, static_cast<std::uint32_t>(name.size()));
  message.content += name + content;
  return message;
}

void Exporting::begin(const PlayMode& mode, int client, const Request& request, const std::string& name) {
  leave(client);
  const std::string format = request.text("format");
  if (format != "glb" && format != "csv" && format != "jsonl") throw BadValue{"format: give glb, csv or jsonl."};
  const std::int64_t first = std::clamp(request.whole("first", 0, 1e15), mode.first(), mode.last());
  const std::int64_t last = std::clamp(request.whole("last", 0, 1e15), first, mode.last());
  const auto objects = static_cast<std::int64_t>(mode.past().objects.size());
  if ((last - first + 1) * objects > most_poses)
    throw BadValue{"the recording is too long for the page; record it with hushed play --record."};
  const auto file = temporary_file('.' + format);
  const Rhythm& rhythm = mode.rhythm();
  const auto rate = rhythm.uneven ? std::nullopt : rhythm.per_second;
  pending_.push_back({client, name + '.' + format, file, mode.edition(), first, last, {file, mode.past(), rate, name}});
}

std::vector<Exporting::Result> Exporting::work(const PlayMode& mode, const std::function<bool()>& goes_on) {
  std::vector<Result> results;
  bool is_first = true;
  for (; !pending_.empty() && (is_first || goes_on()); is_first = false) {
    Pending& pending = pending_.front();
    const auto refuse = [&](const std::string& why) {
      const Json refusal{{"kind", "refused"}, {"do", "export"}, {"text", why}};
      results.push_back({pending.client, {refusal.dump()}});
      pending_.pop_front();
    };
    if (pending.edition != mode.edition() || pending.next < mode.first()) {
      refuse("the stored frames have changed meanwhile; export again.");
      continue;
    }
    pending.writer.add(mode.time(pending.next), mode.poses(pending.next));
    if (pending.next++ < pending.last) continue;
    pending.writer.finish();
    std::ifstream in{pending.file, std::ios::binary};
    const std::string content{std::istreambuf_iterator<char>{in}, {}};
    std::error_code ignored;
    std::filesystem::remove(pending.file, ignored);
    if (content.size() > most_bytes) {
      refuse("the recording is too large for the page; record it with hushed play --record.");
      continue;
    }
    results.push_back({pending.client, file_message(pending.name, content)});
    pending_.pop_front();
  }
  return results;
}

void Exporting::leave(int client) {
  std::erase_if(pending_, [client](const Pending& pending) { return pending.client == client; });
}

}  // namespace hushed::detail
