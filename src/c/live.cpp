// SPDX-License-Identifier: MIT
// Play mode in the browser.

#ifdef HUSHED_C_LIVE
#include <hushed/live_server.hpp>
#endif

#include "scenes.hpp"

#ifdef HUSHED_C_LIVE

namespace hushed::c {

namespace {

/// A server, and the scene that it plays, which cannot be freed meanwhile.
struct OpenServer {
  OpenServer(OpenScene& played, const LiveOptions& options) : server{played.scene, options}, of{played} {
    ++of.servers;
  }
  OpenServer(const OpenServer&) = delete;
  OpenServer& operator=(const OpenServer&) = delete;
  ~OpenServer() { --of.servers; }

  LiveServer server;
  OpenScene& of;
};

HandleTable<OpenServer, Sort::live>& servers() {
  static HandleTable<OpenServer, Sort::live> all;
  return all;
}

}  // namespace
}  // namespace hushed::c

using namespace hushed::c;

hushed_status hushed_live_new(hushed_scene scene, uint16_t port, hushed_live* live) {
  return guarded([&] {
    auto server = std::make_unique<OpenServer>(scenes().at(scene), hushed::LiveOptions{.port = port});
    needed(live, "live") = servers().add(std::move(server));
  });
}

hushed_status hushed_live_address(hushed_live live, char* to, size_t size, size_t* needed) {
  return guarded([&] { write_text(servers().at(live).server.address(), to, size, needed); });
}

hushed_status hushed_live_serve(hushed_live live, double seconds) {
  return guarded([&] {
    OpenServer& open = servers().at(live);
    (void)time_of(seconds, "seconds");
    open.server.serve(std::chrono::duration<double>{seconds});
  });
}

hushed_status hushed_live_free(hushed_live live) {
  return guarded([&] { servers().remove(live); });
}

#else

using namespace hushed::c;

namespace {
hushed_status refuse() noexcept {
  return guarded(
      [] { throw hushed::Error{"the library was built without the live server; build it with HUSHED_LIVE=ON."}; });
}
}  // namespace

hushed_status hushed_live_new(hushed_scene, uint16_t, hushed_live*) { return refuse(); }
hushed_status hushed_live_address(hushed_live, char*, size_t, size_t*) { return refuse(); }
hushed_status hushed_live_serve(hushed_live, double) { return refuse(); }
hushed_status hushed_live_free(hushed_live) { return refuse(); }

#endif
