// SPDX-License-Identifier: MIT
// HTTP and WebSocket. No other source includes Boost, which takes long to compile.

#include "web_server.hpp"

#include <utility>  // before Beast, which uses it without including it

#include <boost/asio/io_context.hpp>
#include <boost/asio/ip/tcp.hpp>
#include <boost/asio/post.hpp>
#include <boost/asio/steady_timer.hpp>
#include <boost/beast/core.hpp>
#include <boost/beast/http.hpp>
#include <boost/beast/websocket.hpp>

#include <algorithm>
#include <condition_variable>
#include <deque>
#include <map>
#include <mutex>
#include <optional>
#include <random>
#include <thread>

#include <hushed/error.hpp>

namespace hushed::detail {

namespace {

namespace asio = boost::asio;
namespace beast = boost::beast;
namespace http = beast::http;
namespace websocket = beast::websocket;
using asio::ip::tcp;
using Failure = beast::error_code;
using Request = http::request<http::string_body>;

constexpr int send_buffer = 32 * 1024;

std::string random_token() {
  std::random_device random;
  constexpr std::string_view letters = "abcdefghijkmnpqrstuvwxyz23456789";  // 32 letters that are hard to confuse
  std::string token;
  for (int i = 0; i < 26; ++i) token += letters[random() % letters.size()];
  return token;
}

/// Compares in constant time, so that the time does not reveal how many characters match.
bool is_same_secret(std::string_view given, std::string_view secret) {
  unsigned differs = given.size() == secret.size() ? 0U : 1U;
  for (std::size_t i = 0; i < secret.size(); ++i)
    differs |= static_cast<unsigned char>(secret[i]) ^ static_cast<unsigned char>(i < given.size() ? given[i] : '\0');
  return differs == 0;
}

/// The value of "?token=" in a target.
std::string_view token_in(std::string_view target) {
  constexpr std::string_view key = "token=";
  const std::size_t query = target.find('?');
  if (query == target.npos) return {};
  std::string_view rest = target.substr(query + 1);
  while (!rest.empty()) {
    const std::string_view part = rest.substr(0, rest.find('&'));
    if (part.substr(0, key.size()) == key) return part.substr(key.size());
    rest.remove_prefix(std::min(rest.size(), part.size() + 1));
  }
  return {};
}

std::string_view text_of(beast::string_view text) { return {text.data(), text.size()}; }

/// True where a request names the address at which it reached this server, and not another address or a host name that
/// another site has directed to it.
bool is_for(std::string_view host, const tcp::endpoint& reached) {
  const std::string ending = ':' + std::to_string(reached.port());
  if (host.size() <= ending.size() || host.substr(host.size() - ending.size()) != ending) return false;
  std::string name{host.substr(0, host.size() - ending.size())};
  if (name == "localhost") return reached.address().is_loopback();
  if (name.size() > 2 && name.front() == '[' && name.back() == ']') name = name.substr(1, name.size() - 2);
  Failure failed;
  const asio::ip::address named = asio::ip::make_address(name, failed);
  return !failed && named == reached.address();
}

struct Post {
  std::shared_ptr<const std::string> content;
  bool is_text;
};

}  // namespace

class WebServer::Impl {
 public:
  Impl(const LiveOptions& options, std::string_view page, const ServerLimits& limits);
  ~Impl();

  std::string address() const;
  void accept();

  // --- of the scene's thread --------------------------------------------------------------------------------------
  bool has_events() const {
    const std::lock_guard lock{mutex_};
    return !events_.empty();
  }
  std::vector<ClientEvent> take_events();
  void wait_for_events(std::chrono::nanoseconds longest) {
    std::unique_lock lock{mutex_};
    came_.wait_for(lock, longest, [this] { return !events_.empty(); });
  }
  void send(int client, Message message);

  // --- of its own -------------------------------------------------------------------------------------------------
  void put(ClientEvent events) {
    {
      const std::lock_guard lock{mutex_};
      events_.push_back(std::move(events));
    }
    came_.notify_one();
  }

  class Client;
  class Caller;

  const ServerLimits limits;
  std::string token;
  std::string_view page;
  std::size_t most_tabs;
  std::size_t connections = 0;  ///< declared before the context, whose last handlers decrement it
  std::map<int, std::shared_ptr<Client>> clients;
  int last_tab = 0;
  asio::io_context context{1};
  tcp::acceptor acceptor{context};

 private:
  asio::steady_timer pause_{context};  ///< the pause after a failed accept
  mutable std::mutex mutex_;
  std::condition_variable came_;
  std::vector<ClientEvent> events_;
  std::thread thread_;
};

/// A connected client. Its pending operations keep it alive.
class WebServer::Impl::Client : public std::enable_shared_from_this<Client> {
 public:
  Client(Impl& server, beast::tcp_stream&& stream, int number)
      : server_{server}, stream_{std::move(stream)}, number_{number}, too_slow_{server.context} {}

  void greet(const Request& request) {
    beast::get_lowest_layer(stream_).expires_never();
    websocket::stream_base::timeout timeout{server_.limits.timeout, 3 * server_.limits.timeout, true};
    stream_.set_option(timeout);
    stream_.read_message_max(server_.limits.largest_message);
    stream_.async_accept(request, [self = shared_from_this()](Failure failed) { self->accepted(failed); });
  }

  void send(Post post, bool is_frame) {
    if (!is_open_) return;
    if (is_frame) {
      frame_ = std::move(post);
    } else {
      unsent_ += post.content->size();
      if (unsent_ > server_.limits.most_unsent) return leave();
      posts_.push_back(std::move(post));
    }
    if (!is_sending_) send_next();
  }

  /// The events of the client have been taken.
  void go_on() {
    unread_ = 0;
    if (std::exchange(is_full_, false)) listen();
  }

  void leave() {
    if (!std::exchange(is_open_, false)) return;
    too_slow_.cancel();
    posts_.clear();
    frame_.reset();
    beast::get_lowest_layer(stream_).close();
    server_.put({ClientEvent::What::disconnected, number_});
    asio::post(server_.context, [&server = server_, number = number_] { server.clients.erase(number); });
  }

 private:
  void accepted(Failure failed) {
    if (failed) {
      server_.clients.erase(number_);
      return;
    }
    is_open_ = true;
    server_.put({ClientEvent::What::connected, number_});
    listen();
  }

  void listen() {
    stream_.async_read(received_, [self = shared_from_this()](Failure failed, std::size_t) { self->on_read(failed); });
  }

  void on_read(Failure failed) {
    if (failed || !stream_.got_text()) return leave();
    if (!is_open_) return;
    server_.put({ClientEvent::What::message, number_, beast::buffers_to_string(received_.data())});
    received_.consume(received_.size());
    // A client whose events are not taken fast enough is not read from.
    if (++unread_ < server_.limits.most_unread)
      listen();
    else
      is_full_ = true;
  }

  void send_next() {
    const bool has_post = !posts_.empty();
    if (!has_post && !frame_) return;
    if (has_post) {
      sending_ = std::move(posts_.front());
      posts_.pop_front();
      unsent_ -= sending_.content->size();
    } else {
      sending_ = *std::exchange(frame_, std::nullopt);
    }
    is_sending_ = true;
    too_slow_.expires_after(server_.limits.timeout);
    too_slow_.async_wait([weak = weak_from_this()](Failure stopped) {
      if (const auto self = weak.lock(); self && !stopped) self->leave();
    });
    stream_.text(sending_.is_text);
    stream_.async_write(asio::buffer(*sending_.content), [self = shared_from_this()](Failure failed, std::size_t) {
      self->too_slow_.cancel();
      self->is_sending_ = false;
      if (failed) return self->leave();
      if (self->is_open_) self->send_next();
    });
  }

  Impl& server_;
  websocket::stream<beast::tcp_stream> stream_;
  int number_;
  bool is_open_ = false;
  beast::flat_buffer received_;
  std::size_t unread_ = 0;
  bool is_full_ = false;
  std::deque<Post> posts_;
  std::size_t unsent_ = 0;  ///< bytes in `posts_`
  std::optional<Post> frame_;
  Post sending_;
  bool is_sending_ = false;
  asio::steady_timer too_slow_;
};

/// A connection before its first request.
class WebServer::Impl::Caller : public std::enable_shared_from_this<Caller> {
 public:
  Caller(Impl& server, tcp::socket&& socket) : server_{server}, stream_{std::move(socket)} { ++server_.connections; }
  ~Caller() { --server_.connections; }

  void listen() {
    parser_.header_limit(static_cast<std::uint32_t>(server_.limits.most_header));
    parser_.body_limit(0);
    stream_.expires_after(server_.limits.timeout);
    http::async_read(stream_, received_, parser_,
                     [self = shared_from_this()](Failure failed, std::size_t) { self->on_read(failed); });
  }

 private:
  void on_read(Failure failed) {
    if (failed) return;
    const Request& request = parser_.get();
    const std::string_view target = text_of(request.target()), path = target.substr(0, target.find('?'));
    Failure gone;
    const tcp::endpoint reached = stream_.socket().local_endpoint(gone);
    if (gone) return;
    if (!is_for(text_of(request[http::field::host]), reached))
      return answer(http::status::forbidden, "Wrong address. Open the address that hushed printed.\n");
    if (!is_same_secret(token_in(target), server_.token))
      return answer(http::status::forbidden,
                    "The token is missing or wrong. Open the whole address that hushed printed.\n");
    if (path == "/live" && websocket::is_upgrade(request)) return let_in(request);
    if (request.method() != http::verb::get && request.method() != http::verb::head)
      return answer(http::status::method_not_allowed, "This server only answers GET and HEAD.\n");
    if (path != "/") return answer(http::status::not_found, "There is nothing here; the page is at /.\n");
    answer(http::status::ok, server_.page, "text/html; charset=utf-8");
  }

  void let_in(const Request& request) {
    const std::string_view host = text_of(request[http::field::host]), origin = text_of(request[http::field::origin]);
    if (origin != "http://" + std::string{host})
      return answer(http::status::forbidden, "Connections are accepted only from the page at this address.\n");
    if (server_.clients.size() >= server_.most_tabs)
      return answer(http::status::service_unavailable,
                    "The largest number of tabs is open already; close one, or raise --tabs.\n");
    const int number = ++server_.last_tab;
    const auto client = std::make_shared<Client>(server_, std::move(stream_), number);
    server_.clients[number] = client;
    client->greet(request);
  }

  void answer(http::status status, std::string_view body, const char* kind = "text/plain; charset=utf-8") {
    response_.result(status);
    response_.version(parser_.get().version());
    response_.keep_alive(false);
    response_.set(http::field::content_type, kind);
    response_.set(http::field::cache_control, "no-store");
    response_.set("Content-Security-Policy",
                  "default-src 'none'; script-src 'unsafe-inline'; style-src 'unsafe-inline'; img-src data: blob:; "
                  "connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'");
    response_.set("X-Content-Type-Options", "nosniff");
    response_.set("Referrer-Policy", "no-referrer");
    response_.content_length(body.size());
    if (parser_.get().method() != http::verb::head) response_.body() = body;
    stream_.expires_after(server_.limits.timeout);
    http::async_write(stream_, response_, [self = shared_from_this()](Failure, std::size_t) {
      Failure ignored;
      self->stream_.socket().shutdown(tcp::socket::shutdown_send, ignored);
    });
  }

  Impl& server_;
  beast::tcp_stream stream_;
  beast::flat_buffer received_;
  http::request_parser<http::string_body> parser_;
  http::response<http::string_body> response_;
};

WebServer::Impl::Impl(const LiveOptions& options, std::string_view the_page, const ServerLimits& the_limits)
    : limits{the_limits},
      token{options.token.empty() ? random_token() : options.token},
      page{the_page},
      most_tabs{options.most_tabs} {
  try {
    const tcp::endpoint at{asio::ip::make_address(options.host), options.port};
    acceptor.open(at.protocol());
    acceptor.set_option(asio::socket_base::reuse_address{true});
    acceptor.bind(at);
    acceptor.listen();
  } catch (const boost::system::system_error& error) {
    throw Error{"the page cannot be served at " + options.host + ", port " + std::to_string(options.port) + ": " +
                error.code().message() + ". Give an address of this computer, and a port that is free (0 finds one)."};
  }
  accept();
  thread_ = std::thread{[this] { context.run(); }};
}

WebServer::Impl::~Impl() {
  context.stop();
  thread_.join();
  clients.clear();
}

std::string WebServer::Impl::address() const {
  const tcp::endpoint at = acceptor.local_endpoint();
  // A server that listens on all addresses is reached at the local one.
  const auto host = at.address().is_unspecified() ? std::string{"127.0.0.1"} : at.address().to_string();
  return "http://" + (at.address().is_v6() && !at.address().is_unspecified() ? '[' + host + ']' : host) + ':' +
         std::to_string(at.port()) + "/?token=" + token;
}

void WebServer::Impl::accept() {
  acceptor.async_accept([this](Failure failed, tcp::socket socket) {
    if (!failed && connections + clients.size() < limits.most_connections) {
      Failure ignored;
      socket.set_option(asio::socket_base::send_buffer_size{send_buffer}, ignored);
      socket.set_option(tcp::no_delay{true}, ignored);
      std::make_shared<Caller>(*this, std::move(socket))->listen();
    }
    if (failed == asio::error::operation_aborted) return;
    if (!failed) return accept();
    // Resources such as file descriptors are missing: tries again later.
    pause_.expires_after(std::chrono::milliseconds{100});
    pause_.async_wait([this](Failure stopped) {
      if (!stopped) accept();
    });
  });
}

std::vector<ClientEvent> WebServer::Impl::take_events() {
  std::vector<ClientEvent> taken;
  {
    const std::lock_guard lock{mutex_};
    taken.swap(events_);
  }
  if (!taken.empty())
    asio::post(context, [this] {
      for (const auto& [number, client] : clients) client->go_on();
    });
  return taken;
}

void WebServer::Impl::send(int client, Message message) {
  Post post{std::make_shared<const std::string>(std::move(message.content)), message.kind == Message::Kind::text};
  const bool is_frame = message.kind == Message::Kind::frame;
  asio::post(context, [this, client, is_frame, post = std::move(post)] {
    if (const auto found = clients.find(client); found != clients.end()) found->second->send(post, is_frame);
  });
}

WebServer::WebServer(const LiveOptions& options, std::string_view page, const ServerLimits& limits)
    : impl_{std::make_unique<Impl>(options, page, limits)} {}
WebServer::~WebServer() = default;

std::string WebServer::address() const { return impl_->address(); }
bool WebServer::has_events() const { return impl_->has_events(); }
std::vector<ClientEvent> WebServer::take_events() { return impl_->take_events(); }
void WebServer::wait_for_events(std::chrono::nanoseconds longest) { impl_->wait_for_events(longest); }
void WebServer::send(int client, Message message) { impl_->send(client, std::move(message)); }

}  // namespace hushed::detail
