// SPDX-License-Identifier: MIT
// The server over real sockets: with requests of a browser, and requests that must be refused.

#include "web_server.hpp"

#include <fcntl.h>
#include <sys/resource.h>
#include <unistd.h>

#include <utility>

#include <boost/asio/io_context.hpp>
#include <boost/asio/ip/tcp.hpp>
#include <boost/beast/core.hpp>
#include <boost/beast/http.hpp>
#include <boost/beast/websocket.hpp>

#include <functional>
#include <random>
#include <thread>

#include <gtest/gtest.h>

#include <hushed/hushed.hpp>
#include <hushed/live_server.hpp>

namespace hushed::tests {
namespace {

namespace asio = boost::asio;
namespace beast = boost::beast;
namespace http = beast::http;
using asio::ip::tcp;
using detail::ClientEvent;
using detail::Message;
using detail::ServerLimits;
using detail::WebServer;
using std::chrono::milliseconds;

constexpr std::string_view page = "<!doctype html><title>harbour</title>";

struct Address {
  explicit Address(const std::string& url)
      : port{url.substr(17, url.find('/', 17) - 17)},
        host{"127.0.0.1:" + port},
        target{url.substr(url.find('/', 17))} {}
  std::string port, host, target;
};

asio::io_context context;

tcp::socket connect(const Address& address) {
  tcp::socket socket{context};
  socket.connect({asio::ip::make_address("127.0.0.1"), static_cast<unsigned short>(std::stoi(address.port))});
  return socket;
}

struct Asked {
  std::string target, host;
  http::verb verb = http::verb::get;
};

http::response<http::string_body> get(const Address& address, const Asked& asked) {
  tcp::socket socket = connect(address);
  http::request<http::string_body> request{asked.verb, asked.target, 11};
  request.set(http::field::host, asked.host);
  http::write(socket, request);
  beast::flat_buffer buffer;
  http::response_parser<http::string_body> parser;
  parser.skip(asked.verb == http::verb::head);
  http::read(socket, buffer, parser);
  return parser.release();
}

/// A client that reads and writes on request.
class Client {
 public:
  explicit Client(const Address& address, const std::string& origin = "", int receive_buffer = 0) : stream_{context} {
    auto& socket = stream_.next_layer();
    socket.open(tcp::v4());
    if (receive_buffer > 0) socket.set_option(asio::socket_base::receive_buffer_size{receive_buffer});
    socket.connect({asio::ip::make_address("127.0.0.1"), static_cast<unsigned short>(std::stoi(address.port))});
    stream_.set_option(beast::websocket::stream_base::decorator([&](beast::websocket::request_type& request) {
      request.set(http::field::origin, origin.empty() ? "http://" + address.host : origin);
    }));
    stream_.handshake(address.host, "/live" + address.target.substr(1), failed);
  }
  void say(const std::string& text) { stream_.write(asio::buffer(text), failed); }
  std::string hear() {
    beast::flat_buffer buffer;
    stream_.read(buffer, failed);
    return beast::buffers_to_string(buffer.data());
  }
  bool was_let_in() const { return !failed; }
  bool was_turned_away() const { return failed == beast::websocket::error::upgrade_declined; }
  tcp::socket& socket() { return stream_.next_layer(); }

  beast::error_code failed;

 private:
  beast::websocket::stream<tcp::socket> stream_;
};

/// Takes events until one fulfils the condition.
bool comes(WebServer& server, const std::function<bool(const ClientEvent&)>& is_it,
           milliseconds longest = milliseconds{5000}) {
  const auto latest = std::chrono::steady_clock::now() + longest;
  while (std::chrono::steady_clock::now() < latest) {
    server.wait_for_events(milliseconds{20});
    for (const ClientEvent& events : server.take_events())
      if (is_it(events)) return true;
  }
  return false;
}

bool comes(WebServer& server, ClientEvent::What what) {
  return comes(server, [what](const ClientEvent& events) { return events.what == what; });
}

TEST(WebServer, ServesThePageToAnyoneWithTheToken) {
  WebServer server{{}, page};
  const Address address{server.address()};
  EXPECT_GT(address.target.size(), 26U);
  const auto response = get(address, {address.target, address.host});
  EXPECT_EQ(response.result_int(), 200U);
  EXPECT_EQ(response.body(), page);
  EXPECT_NE(response["Content-Security-Policy"].find("default-src 'none'"), beast::string_view::npos);
  EXPECT_EQ(get(address, {address.target, address.host, http::verb::head}).result_int(), 200U);
  EXPECT_EQ(get(address, {address.target, "localhost:" + address.port}).result_int(), 200U);
}

TEST(WebServer, RefusesAllOthers) {
  WebServer server{{}, page};
  const Address address{server.address()};
  std::string wrong = address.target;
  wrong.back() = wrong.back() == 'x' ? 'y' : 'x';
  const std::string file = "/etc/passwd" + address.target.substr(1);
  const std::vector<std::pair<Asked, unsigned>> cases{
      {{"/", address.host}, 403},
      {{"/?token=", address.host}, 403},
      {{wrong, address.host}, 403},
      {{address.target.substr(0, address.target.size() - 1), address.host}, 403},
      {{address.target, "harbour.example:" + address.port},
       403},  // a host name of another site that resolves to this address
      {{address.target, "127.0.0.1:1"}, 403},
      {{address.target, "10.1.2.3:" + address.port}, 403},  // an address, but not the one that was reached
      {{address.target, "[::1]:" + address.port}, 403},
      {{address.target, ""}, 403},
      {{address.target, address.host, http::verb::post}, 405},
      {{file, address.host}, 404},
  };
  for (const auto& [asked, status] : cases)
    EXPECT_EQ(get(address, asked).result_int(), status) << asked.target << ' ' << asked.host;
  EXPECT_TRUE(Client(address, "http://harbour.example").was_turned_away());
  EXPECT_TRUE(Client(address, "http://localhost:" + address.port).was_turned_away());
  EXPECT_FALSE(server.has_events());
}

TEST(WebServer, WaitsWhereThereAreNoFileDescriptorsLeft) {
  WebServer server{{}, page};
  const Address address{server.address()};
  EXPECT_EQ(get(address, {address.target, address.host}).result_int(), 200U);  // it is open by now
  asio::io_context context;
  tcp::socket early{context};
  early.open(tcp::v4());
  const int next_free = open("/dev/null", O_RDONLY | O_CLOEXEC);
  close(next_free);
  rlimit usual{};
  getrlimit(RLIMIT_NOFILE, &usual);
  const rlimit none_left{static_cast<rlim_t>(next_free), usual.rlim_max};
  setrlimit(RLIMIT_NOFILE, &none_left);
  early.connect({asio::ip::make_address("127.0.0.1"), static_cast<unsigned short>(std::stoi(address.port))});
  const auto cpu = [] {
    rusage used{};
    getrusage(RUSAGE_SELF, &used);
    return static_cast<double>(used.ru_utime.tv_sec + used.ru_stime.tv_sec) +
           1e-6 * static_cast<double>(used.ru_utime.tv_usec + used.ru_stime.tv_usec);
  };
  const double before = cpu();
  std::this_thread::sleep_for(milliseconds{600});
  const double spent = cpu() - before;
  setrlimit(RLIMIT_NOFILE, &usual);
  EXPECT_LT(spent, 0.3);  // of 0.6 s
  EXPECT_EQ(get(address, {address.target, address.host}).result_int(), 200U);
}

TEST(WebServer, PassesMessagesOn) {
  WebServer server{{}, page};
  Client client{Address{server.address()}};
  ASSERT_TRUE(comes(server, ClientEvent::What::connected));
  client.say("ahoy");
  int number = 0;
  ASSERT_TRUE(comes(server, [&](const ClientEvent& events) {
    number = events.client;
    return events.what == ClientEvent::What::message && events.text == "ahoy";
  }));
  server.send(number, {"aye", Message::Kind::text});
  server.send(number + 1, {"to nobody", Message::Kind::text});
  EXPECT_EQ(client.hear(), "aye");
  client.socket().close();
  EXPECT_TRUE(comes(server, ClientEvent::What::disconnected));
}

TEST(WebServer, LimitsTheNumberOfConnections) {
  LiveOptions options;
  options.most_tabs = 2;
  WebServer server{options, page};
  const Address address{server.address()};
  auto one = std::make_unique<Client>(address);
  Client other{address};
  EXPECT_TRUE(Client{address}.was_turned_away());
  one->socket().close();
  ASSERT_TRUE(comes(server, ClientEvent::What::disconnected));
  EXPECT_TRUE(Client{address}.was_let_in());
}

TEST(WebServer, DisconnectsAClientWithATooLargeMessage) {
  WebServer server{{}, page};
  Client client{Address{server.address()}};
  client.say(std::string(200'000, 'x'));
  EXPECT_TRUE(comes(server, ClientEvent::What::disconnected));
}

TEST(WebServer, ReadsNoMoreFromAClientThanIsProcessed) {
  ServerLimits limits;
  limits.most_unread = 8;
  WebServer server{{}, page, limits};
  Client client{Address{server.address()}};
  ASSERT_TRUE(comes(server, ClientEvent::What::connected));
  for (int i = 0; i < 100; ++i) client.say(std::to_string(i));
  std::this_thread::sleep_for(milliseconds{200});
  int next = 0;
  const auto latest = std::chrono::steady_clock::now() + std::chrono::seconds{10};
  while (next < 100 && std::chrono::steady_clock::now() < latest) {
    server.wait_for_events(milliseconds{20});
    const auto events = server.take_events();
    EXPECT_LE(events.size(), 16U);
    for (const ClientEvent& each : events) EXPECT_EQ(each.text, std::to_string(next++));
  }
  EXPECT_EQ(next, 100);  // but nothing of it is lost
}

TEST(WebServer, DisconnectsAClientThatDoesNotReadAndServesTheOthers) {
  ServerLimits limits;
  limits.timeout = milliseconds{400};
  WebServer server{{}, page, limits};
  const Address address{server.address()};
  Client sleeper{address, "", 4096};
  Client reader{address};
  int first = 0;
  ASSERT_TRUE(comes(server, [&](const ClientEvent& events) {
    if (first == 0) first = events.client;
    return events.what == ClientEvent::What::connected && events.client != first;
  }));
  std::thread reads{[&] {
    while (reader.hear() != "the last") {
      if (reader.failed) return;
    }
  }};
  bool has_left = false;
  int disconnected = 0;
  const auto latest = std::chrono::steady_clock::now() + std::chrono::seconds{10};
  while (!has_left && std::chrono::steady_clock::now() < latest) {
    for (const int client : {1, 2}) server.send(client, {std::string(300'000, '~'), Message::Kind::frame});
    server.wait_for_events(milliseconds{10});
    for (const ClientEvent& events : server.take_events()) {
      has_left = has_left || events.what == ClientEvent::What::disconnected;
      if (events.what == ClientEvent::What::disconnected) disconnected = events.client;
    }
  }
  EXPECT_EQ(disconnected, 1);
  server.send(2, {"the last", Message::Kind::text});
  reads.join();
  EXPECT_FALSE(reader.failed);
}

TEST(WebServer, ReplacesAnUnsentFrameByANewerOne) {
  WebServer server{{}, page};
  Client client{Address{server.address()}, "", 4096};
  ASSERT_TRUE(comes(server, ClientEvent::What::connected));
  for (int i = 0; i < 300; ++i) server.send(1, {std::string(100'000, 'a') + std::to_string(i), Message::Kind::frame});
  server.send(1, {"done", Message::Kind::text});
  std::this_thread::sleep_for(milliseconds{300});
  int frames = 0;
  std::string last;
  for (bool is_done = false; !is_done || !last.ends_with("a299"); ++frames) {
    const std::string heard = client.hear();
    ASSERT_FALSE(client.failed) << client.failed.message();
    if (heard == "done")
      is_done = true;
    else
      last = heard;
  }
  EXPECT_LT(frames, 100);
}

TEST(WebServer, SurvivesAnyInput) {
  ServerLimits limits;
  limits.timeout = milliseconds{300};
  WebServer server{{}, page, limits};
  const Address address{server.address()};
  const std::string good = "GET /live" + address.target.substr(1) + " HTTP/1.1\r\nHost: " + address.host +
                           "\r\nOrigin: http://" + address.host +
                           "\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Version: 13\r\n"
                           "Sec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n\r\n\x81\x85\x01\x02\x03\x04hello";
  std::mt19937_64 random{3};
  for (int round = 0; round < 300; ++round) {
    std::string bytes = good;
    for (auto changes = 1 + random() % 6; changes > 0; --changes) {
      const std::size_t at = random() % bytes.size();
      if (random() % 3 == 0)
        bytes.erase(at, 1 + random() % 20);
      else
        bytes[at] = static_cast<char>(random());
    }
    if (round == 0) bytes = "GET / HTTP/1.1\r\nX: " + std::string(100'000, 'x');
    tcp::socket socket = connect(address);
    beast::error_code ignored;
    asio::write(socket, asio::buffer(bytes), ignored);
    if (round % 3 == 0) socket.shutdown(tcp::socket::shutdown_send, ignored);
    if (round % 50 == 0) std::this_thread::sleep_for(milliseconds{5});
  }
  const auto latest = std::chrono::steady_clock::now() + std::chrono::seconds{10};
  unsigned status = 0;
  while (status != 200 && std::chrono::steady_clock::now() < latest) {  // they are disconnected one by one
    try {
      status = get(address, {address.target, address.host}).result_int();
    } catch (const boost::system::system_error&) {
      std::this_thread::sleep_for(milliseconds{50});
    }
  }
  EXPECT_EQ(status, 200U);
}

TEST(WebServer, ReportsAnAddressThatCannotBeUsed) {
  LiveOptions options;
  WebServer server{options, page};
  options.port = static_cast<std::uint16_t>(std::stoi(Address{server.address()}.port));
  EXPECT_THROW((WebServer{options, page}), Error);
  options.host = "the harbour";
  EXPECT_THROW((WebServer{options, page}), Error);
}

TEST(LiveServer, PlaysAProgramsSceneWithAndWithoutClients) {
  Scene harbour;
  const Object lamp = harbour.add({.name = "lamp"});
  harbour.give(lamp, Spin{.speed = degrees(40)});
  LiveServer server{harbour};
  for (int i = 0; i < 10; ++i) server.serve(milliseconds{10});
  EXPECT_EQ(harbour.time(), seconds(0.1));
  {
    Client client{Address{server.address()}};
    const auto latest = std::chrono::steady_clock::now() + std::chrono::seconds{5};
    while (server.clients() == 0 && std::chrono::steady_clock::now() < latest) server.serve(milliseconds{0});
    EXPECT_EQ(client.hear().substr(0, 1), "{");
    const Time looked_at = harbour.time();
    server.serve(milliseconds{10});
    EXPECT_EQ(harbour.time(), looked_at + Time{milliseconds{10}});  // it plays until the page pauses it
    client.say(R"({"do": "pause"})");
    const auto is_halted = [&] {
      const Time before = harbour.time();
      server.serve(milliseconds{10});
      return harbour.time() == before;
    };
    while (!is_halted() && std::chrono::steady_clock::now() < latest) std::this_thread::sleep_for(milliseconds{1});
    EXPECT_TRUE(is_halted());
    client.socket().close();
    while (server.clients() != 0 && std::chrono::steady_clock::now() < latest) server.serve(milliseconds{10});
  }
  const Time before = harbour.time();
  server.serve(milliseconds{10});
  EXPECT_EQ(harbour.time(), before + Time{milliseconds{10}});  // no client is connected: it plays on
}

}  // namespace
}  // namespace hushed::tests
