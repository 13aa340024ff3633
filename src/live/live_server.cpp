#include <hushed/live_server.hpp>

#include <optional>
#include <set>

#include "door.hpp"
#include "orders.hpp"
#include "session.hpp"

extern "C" {
extern const char hushed_page_begin[];
extern const char hushed_page_end[];
}

namespace hushed {

namespace {

using inside::Door;
using inside::Mail;
using inside::Orders;
using inside::Session;

/// How long orders, and long work, may take before others have their turn.
constexpr std::chrono::milliseconds slice{6};

std::string_view page() { return {hushed_page_begin, static_cast<std::size_t>(hushed_page_end - hushed_page_begin)}; }

inside::OpenFile open(const std::filesystem::path& file) {
  SceneSource source{file};  // read first: should the file change meanwhile, nothing is written over it
  return {file, read_scene_file(file), std::move(source)};
}

}  // namespace

class LiveServer::Inner {
 public:
  Inner(Scene& scene, const LiveOptions& options) : scene_{scene}, door_{options, page()} {}

  Inner(const std::filesystem::path& path, const LiveOptions& options)
      : file_{open(path)}, scene_{file_->playing.scene}, session_{std::in_place, *file_}, door_{options, page()} {
    session_->begin({options.per_second, {}, 1.0}, options.plays);
    session_->limit_slices(slice);
  }

  std::string address() const { return door_.address(); }
  Scene& scene() { return scene_; }
  std::size_t tabs() const { return tabs_.size(); }

  void pass(Time frame) {
    if (door_.has_mail())
      for (Mail& mail : door_.take_mail()) read(mail);
    carry_out_orders();
    if (!tabs_.empty())
      tell(session_->pass(frame), 0);
    else if (!file_)
      scene_.advance(frame);
  }

  /// Until there is something to do: mail, a frame to play, or time to look at the file.
  void wait(std::chrono::steady_clock::time_point last_pass) {
    constexpr std::chrono::nanoseconds look_at_file = std::chrono::milliseconds{50};
    if (!orders_.empty() || (session_ && session_->is_busy())) return;
    std::chrono::nanoseconds longest = look_at_file;
    if (!tabs_.empty() && session_->mode().playing()) {
      const PlayMode& mode = session_->mode();
      const double left = mode.rhythm().per_second ? in_seconds(mode.until_next_frame()) : 1.0 / 60.0;
      longest = std::min(longest, std::chrono::nanoseconds{static_cast<std::int64_t>(left * 1e9) + 1});
    }
    door_.wait_for_mail(last_pass + longest - std::chrono::steady_clock::now());
  }

 private:
  /// As many as there is time for, and one at least.
  void carry_out_orders() {
    const auto until = std::chrono::steady_clock::now() + slice;
    do {
      auto order = orders_.take();
      if (!order) return;
      tell(session_->handle(order->tab, order->text), order->tab);
    } while (std::chrono::steady_clock::now() < until);
  }

  void read(Mail& mail) {
    switch (mail.what) {
      case Mail::What::came:
        if (!session_) {
          session_.emplace(scene_);
          session_->limit_slices(slice);
        }
        tabs_.insert(mail.tab);
        return tell(session_->greet(), mail.tab);
      case Mail::What::said:
        if (!orders_.add(mail.tab, std::move(mail.text)))
          door_.send(mail.tab,
                     {R"({"kind": "refused", "do": "nothing", "text": "too many orders wait; send fewer."})"});
        return;
      case Mail::What::left:
        tabs_.erase(mail.tab);
        orders_.forget(mail.tab);
        tell(session_->leave(mail.tab), 0);
        if (tabs_.empty() && !file_) session_.reset();  // the program plays on by itself
        return;
    }
  }

  void tell(std::vector<Session::Answer> answers, int tab) {
    for (Session::Answer& answer : answers) {
      if (!answer.to_all) {
        door_.send(answer.tab != 0 ? answer.tab : tab, std::move(answer.message));
        continue;
      }
      for (const int each : tabs_) door_.send(each, answer.message);
    }
  }

  std::optional<inside::OpenFile> file_;
  Scene& scene_;
  std::optional<Session> session_;  ///< of a program's scene: while somebody looks
  std::set<int> tabs_;
  Orders orders_;
  Door door_;  ///< the last, so that it is shut first
};

LiveServer::LiveServer(Scene& scene, const LiveOptions& options) : inner_{std::make_unique<Inner>(scene, options)} {}
LiveServer::LiveServer(const std::filesystem::path& file, const LiveOptions& options)
    : inner_{std::make_unique<Inner>(file, options)} {}
LiveServer::~LiveServer() = default;

std::string LiveServer::address() const { return inner_->address(); }
Scene& LiveServer::scene() { return inner_->scene(); }
std::size_t LiveServer::tabs() const { return inner_->tabs(); }
void LiveServer::pass(Time frame) { inner_->pass(frame); }

void LiveServer::run(const std::function<bool()>& goes_on) {
  auto last = std::chrono::steady_clock::now();
  while (goes_on()) {
    inner_->wait(last);
    const auto now = std::chrono::steady_clock::now();
    serve(std::min<std::chrono::nanoseconds>(now - last, std::chrono::seconds{1}));
    last = now;
  }
}

}  // namespace hushed
