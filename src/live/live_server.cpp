// SPDX-License-Identifier: MIT
#include <hushed/live_server.hpp>

#include <optional>
#include <set>

#include <hushed/recording_file.hpp>

#include "request_queue.hpp"
#include "session.hpp"
#include "web_server.hpp"

extern "C" {
extern const char hushed_page_begin[];
extern const char hushed_page_end[];
}

namespace hushed {

namespace {

using detail::ClientEvent;
using detail::RequestQueue;
using detail::Session;
using detail::WebServer;

/// The time for requests, and for long work, before other work has its turn.
constexpr std::chrono::milliseconds slice{6};

std::string_view page() { return {hushed_page_begin, static_cast<std::size_t>(hushed_page_end - hushed_page_begin)}; }

detail::OpenFile open(const std::filesystem::path& file, const LiveOptions& options) {
  SceneSource source{file};  // read first, so that a change of the file meanwhile is noticed
  detail::OpenFile opened{file, read_scene_file(file, {.kinds = options.kinds}), std::move(source)};
  if (options.feed.empty()) return opened;
  opened.feed = read_recording(options.feed);
  if (feed(opened.playing.scene, opened.feed) == 0)
    throw BadValue{options.feed.string() +
                   ": no object in it has the name of one with fed = true; give another recording."};
  return opened;
}

}  // namespace

class LiveServer::Impl {
 public:
  Impl(Scene& scene, const LiveOptions& options) : scene_{scene}, server_{options, page()} {}

  Impl(const std::filesystem::path& path, const LiveOptions& options)
      : file_{open(path, options)},
        scene_{file_->playing.scene},
        session_{std::in_place, *file_},
        server_{options, page()} {
    session_->begin({options.per_second, {}, 1.0}, options.plays);
    session_->limit_slices(slice);
  }

  std::string address() const { return server_.address(); }
  Scene& scene() { return scene_; }
  std::size_t clients() const { return clients_.size(); }

  void pass(Time frame) {
    if (server_.has_events())
      for (ClientEvent& events : server_.take_events()) read(events);
    carry_out_orders();
    if (!clients_.empty())
      tell(session_->pass(frame), 0);
    else if (!file_)
      scene_.advance(frame);
  }

  /// Waits until there is something to do: an event, a frame to play, or time to check the file.
  void wait(std::chrono::steady_clock::time_point last_pass) {
    constexpr std::chrono::nanoseconds check_file = std::chrono::milliseconds{50};
    if (!requests_.empty() || (session_ && session_->is_busy())) return;
    std::chrono::nanoseconds longest = check_file;
    if (!clients_.empty() && session_->mode().playing()) {
      const PlayMode& mode = session_->mode();
      const double disconnected = mode.rhythm().per_second ? in_seconds(mode.until_next_frame()) : 1.0 / 60.0;
      longest = std::min(longest, std::chrono::nanoseconds{static_cast<std::int64_t>(disconnected * 1e9) + 1});
    }
    server_.wait_for_events(last_pass + longest - std::chrono::steady_clock::now());
  }

 private:
  /// Handles requests while there is time, at least one.
  void carry_out_orders() {
    const auto until = std::chrono::steady_clock::now() + slice;
    do {
      auto request = requests_.take();
      if (!request) return;
      tell(session_->handle(request->client, request->text), request->client);
    } while (std::chrono::steady_clock::now() < until);
  }

  void read(ClientEvent& events) {
    switch (events.what) {
      case ClientEvent::What::connected:
        if (!session_) {
          session_.emplace(scene_);
          session_->limit_slices(slice);
        }
        clients_.insert(events.client);
        return tell(session_->greet(), events.client);
      case ClientEvent::What::message:
        if (!requests_.add(events.client, std::move(events.text)))
          server_.send(
              events.client,
              {R"({"kind": "refused", "do": "nothing", "text": "too many requests are waiting; send fewer."})"});
        return;
      case ClientEvent::What::disconnected:
        clients_.erase(events.client);
        requests_.forget(events.client);
        tell(session_->leave(events.client), 0);
        if (clients_.empty() && !file_) session_.reset();  // the program plays without a session
        return;
    }
  }

  void tell(std::vector<Session::Answer> answers, int client) {
    for (Session::Answer& answer : answers) {
      if (!answer.to_all) {
        server_.send(answer.client != 0 ? answer.client : client, std::move(answer.message));
        continue;
      }
      for (const int each : clients_) server_.send(each, answer.message);
    }
  }

  std::optional<detail::OpenFile> file_;
  Scene& scene_;
  std::optional<Session> session_;  ///< for a program's scene: while a client is connected
  std::set<int> clients_;
  RequestQueue requests_;
  WebServer server_;  ///< the last member, so that it is destroyed first
};

LiveServer::LiveServer(Scene& scene, const LiveOptions& options) : impl_{std::make_unique<Impl>(scene, options)} {}
LiveServer::LiveServer(const std::filesystem::path& file, const LiveOptions& options)
    : impl_{std::make_unique<Impl>(file, options)} {}
LiveServer::~LiveServer() = default;

std::string LiveServer::address() const { return impl_->address(); }
Scene& LiveServer::scene() { return impl_->scene(); }
std::size_t LiveServer::clients() const { return impl_->clients(); }
void LiveServer::pass(Time frame) { impl_->pass(frame); }

void LiveServer::run(const std::function<bool()>& goes_on) {
  auto last = std::chrono::steady_clock::now();
  while (goes_on()) {
    impl_->wait(last);
    const auto now = std::chrono::steady_clock::now();
    serve(std::min<std::chrono::nanoseconds>(now - last, std::chrono::seconds{1}));
    last = now;
  }
}

}  // namespace hushed
