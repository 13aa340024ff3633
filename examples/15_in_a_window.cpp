// The demo harbour in a window, as an engine draws it: a loop and input of its own, and all objects in one draw call
// from the matrices of the scene. Arrow keys turn the view; W, A, S and D drive the pilot boat, H sounds its horn; F1
// opens play mode in the browser; saving the scene file reloads it.
//
//     15_in_a_window [SCENE] [--frames N] [--press KEYS] [--picture FILE.bmp]
//
// The last three are for tests: it stops after N frames of 1/60 s, holds the keys (such as W,F1) from the first frame
// on, and saves what the window shows.

#define GL_GLEXT_PROTOTYPES
#include <SDL.h>
#include <SDL_opengl.h>

#include <cstdio>
#include <cstdlib>
#include <exception>
#include <filesystem>
#include <optional>
#include <sstream>
#include <string>
#include <vector>

#include <Eigen/Geometry>

#include <hushed/hushed.hpp>
#include <hushed/live_server.hpp>
#include <hushed/load.hpp>
#include <hushed/script.hpp>

using namespace hushed;

namespace {

struct Arguments {
  std::filesystem::path scene = "scenes/harbour.toml";
  int frames = 0;  ///< 0: until the window is closed
  std::vector<std::string> pressed;
  std::string picture;
};

Arguments arguments_of(int count, char** words) {
  Arguments found;
  for (int i = 1; i < count; ++i) {
    const std::string word = words[i], next = i + 1 < count ? words[i + 1] : "";
    if (word == "--frames") {
      found.frames = std::atoi(next.c_str());
    } else if (word == "--picture") {
      found.picture = next;
    } else if (word == "--press") {
      std::istringstream keys{next};
      for (std::string key; std::getline(keys, key, ',');) found.pressed.push_back(key);
    } else {
      found.scene = word;
      continue;
    }
    ++i;
  }
  return found;
}

[[noreturn]] void fail(const std::string& what) { throw std::runtime_error{what + ": " + SDL_GetError()}; }

// --- drawing ---------------------------------------------------------------------------------------------------------

/// The surface of a cube is bent into each shape; the matrix of an instance places it.
constexpr const char* vertex_shader = R"(#version 330 core
layout(location = 0) in vec3 corner;   // of a cube from -1 to 1
layout(location = 1) in mat4 placed;   // by Scene::write_matrices
layout(location = 5) in vec4 size;     // in metres, and the kind of the shape
layout(location = 6) in vec3 colour;
uniform mat4 view;
out vec3 at, tint;
void main() {
  vec3 p = corner;
  if (size.w == 1.0) p = normalize(corner);
  if (size.w >= 2.0 && length(p.xz) > 0.0) p.xz *= max(abs(p.x), abs(p.z)) / length(p.xz);
  if (size.w == 3.0) p.xz *= 0.5 - 0.5 * p.y;
  vec4 world = placed * vec4(0.5 * p * size.xyz, 1.0);
  at = world.xyz;
  tint = colour;
  gl_Position = view * world;
}
)";

constexpr const char* fragment_shader = R"(#version 330 core
in vec3 at, tint;
out vec4 colour;
void main() {
  vec3 normal = normalize(cross(dFdx(at), dFdy(at)));
  float moon = max(dot(normal, normalize(vec3(0.5, 0.8, 0.3))), 0.0);
  colour = vec4(tint * (0.25 + 0.75 * moon), 1.0);
}
)";

struct Instance {
  float matrix[16];
  float size[4];
  float colour[3];
};

class Drawing {
 public:
  Drawing() {
    program_ = glCreateProgram();
    compile(GL_VERTEX_SHADER, vertex_shader);
    compile(GL_FRAGMENT_SHADER, fragment_shader);
    glLinkProgram(program_);
    glGenVertexArrays(1, &array_);
    glBindVertexArray(array_);
    glGenBuffers(2, buffers_);

    std::vector<float> corners;  // two triangles for each of the small squares on the six sides
    constexpr int squares = 12;
    for (int side = 0; side < 6; ++side)
      for (int i = 0; i < squares * squares * 6; ++i) {
        constexpr int order[6][2] = {{0, 0}, {1, 0}, {1, 1}, {0, 0}, {1, 1}, {0, 1}};
        const int square = i / 6;
        float corner[3];
        corner[side / 2] = side % 2 ? 1.0F : -1.0F;
        const float u = 2.0F * static_cast<float>(square % squares + order[i % 6][0]) / squares - 1.0F;
        const float v = 2.0F * static_cast<float>(square / squares + order[i % 6][1]) / squares - 1.0F;
        corner[(side / 2 + 1) % 3] = side % 2 ? u : v;  // so that all triangles face outwards
        corner[(side / 2 + 2) % 3] = side % 2 ? v : u;
        corners.insert(corners.end(), corner, corner + 3);
      }
    corners_ = static_cast<GLsizei>(corners.size() / 3);
    glBindBuffer(GL_ARRAY_BUFFER, buffers_[0]);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(corners.size() * sizeof(float)), corners.data(),
                 GL_STATIC_DRAW);
    attribute(0, 3, 3 * sizeof(float), 0, 0);
    glBindBuffer(GL_ARRAY_BUFFER, buffers_[1]);
    for (GLuint column = 0; column < 4; ++column) attribute(1 + column, 4, sizeof(Instance), column * 16, 1);
    attribute(5, 4, sizeof(Instance), offsetof(Instance, size), 1);
    attribute(6, 3, sizeof(Instance), offsetof(Instance, colour), 1);
    glEnable(GL_DEPTH_TEST);
  }

  void draw(const Scene& scene, const Eigen::Matrix4f& view) {
    const std::size_t count = scene.size();
    matrices_.resize(16 * count);
    scene.write_matrices(matrices_);
    instances_.clear();
    for (std::size_t i = 0; i < count; ++i) {
      const Object object = scene.objects()[i];
      if (!scene.shape(object) || scene.hidden(object)) continue;
      Instance& instance = instances_.emplace_back();
      std::copy_n(&matrices_[16 * i], 16, instance.matrix);
      paint(instance, *scene.shape(object), std::hash<std::string>{}(scene.name(object)));
    }
    Instance sea{{1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, -0.25F, 8, 1}, {4000, 0.02F, 4000, 0}, {0.05F, 0.09F, 0.15F}};
    instances_.push_back(sea);

    glClearColor(0.02F, 0.03F, 0.06F, 1.0F);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    glUseProgram(program_);
    glUniformMatrix4fv(glGetUniformLocation(program_, "view"), 1, GL_FALSE, view.data());
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(instances_.size() * sizeof(Instance)), instances_.data(),
                 GL_STREAM_DRAW);
    glDrawArraysInstanced(GL_TRIANGLES, 0, corners_, static_cast<GLsizei>(instances_.size()));
  }

  std::size_t drawn() const { return instances_.size() - 1; }

 private:
  static void paint(Instance& instance, const Shape& shape, std::size_t number) {
    constexpr float colours[6][3] = {{0.93F, 0.72F, 0.36F}, {0.55F, 0.71F, 0.80F}, {0.80F, 0.42F, 0.34F},
                                     {0.78F, 0.79F, 0.75F}, {0.44F, 0.62F, 0.52F}, {0.62F, 0.53F, 0.72F}};
    std::copy_n(colours[number % 6], 3, instance.colour);
    for (int i = 0; i < 3; ++i) instance.size[i] = static_cast<float>(shape.size[i]);
    instance.size[3] = static_cast<float>(shape.kind);
  }

  void compile(GLenum kind, const char* text) const {
    const GLuint shader = glCreateShader(kind);
    glShaderSource(shader, 1, &text, nullptr);
    glCompileShader(shader);
    GLint is_good = 0;
    glGetShaderiv(shader, GL_COMPILE_STATUS, &is_good);
    char log[1024] = "";
    glGetShaderInfoLog(shader, sizeof log, nullptr, log);
    if (!is_good) throw std::runtime_error{std::string{"the graphics driver refuses a shader: "} + log};
    glAttachShader(program_, shader);
  }

  static void attribute(GLuint number, GLint floats, std::size_t step, std::size_t offset, GLuint divisor) {
    glEnableVertexAttribArray(number);
    glVertexAttribPointer(number, floats, GL_FLOAT, GL_FALSE, static_cast<GLsizei>(step),
                          reinterpret_cast<const void*>(offset));
    glVertexAttribDivisor(number, divisor);
  }

  GLuint program_ = 0, array_ = 0, buffers_[2] = {};
  GLsizei corners_ = 0;
  std::vector<float> matrices_;
  std::vector<Instance> instances_;
};

/// Looks at the middle of the harbour from a distance, turned about it by an angle.
Eigen::Matrix4f view_from(Angle around, int width, int height) {
  const Eigen::Vector3f middle{7, 3, 8};
  const auto yaw = static_cast<float>(around.in_radians());
  const Eigen::Vector3f eye = middle + Eigen::Vector3f{50 * std::sin(yaw), 21, 50 * std::cos(yaw)};
  const Eigen::Vector3f back = (eye - middle).normalized(), right = Eigen::Vector3f{0, 1, 0}.cross(back).normalized();
  Eigen::Matrix4f look = Eigen::Matrix4f::Identity();
  look.row(0).head<3>() = right;
  look.row(1).head<3>() = back.cross(right);
  look.row(2).head<3>() = back;
  look.topRightCorner<3, 1>() = -look.topLeftCorner<3, 3>() * eye;

  constexpr float zoom = 2.3F, nearest = 1.0F, farthest = 2000.0F;
  Eigen::Matrix4f lens = Eigen::Matrix4f::Zero();
  lens(0, 0) = zoom * static_cast<float>(height) / static_cast<float>(width);
  lens(1, 1) = zoom;
  lens(2, 2) = (farthest + nearest) / (nearest - farthest);
  lens(2, 3) = 2 * farthest * nearest / (nearest - farthest);
  lens(3, 2) = -1;
  return lens * look;
}

// --- the window ------------------------------------------------------------------------------------------------------

class Window {
 public:
  static constexpr int width = 1280, height = 800;

  Window() {
    if (SDL_Init(SDL_INIT_VIDEO) != 0) fail("no video");
    SDL_GL_SetAttribute(SDL_GL_CONTEXT_MAJOR_VERSION, 3);
    SDL_GL_SetAttribute(SDL_GL_CONTEXT_MINOR_VERSION, 3);
    SDL_GL_SetAttribute(SDL_GL_CONTEXT_PROFILE_MASK, SDL_GL_CONTEXT_PROFILE_CORE);
    SDL_GL_SetAttribute(SDL_GL_DEPTH_SIZE, 24);
    window_ = SDL_CreateWindow("Hushed Orbit: the harbour", SDL_WINDOWPOS_CENTERED, SDL_WINDOWPOS_CENTERED, width,
                               height, SDL_WINDOW_OPENGL);
    if (!window_) fail("no window");
    if (!SDL_GL_CreateContext(window_)) fail("no OpenGL 3.3");
    SDL_GL_SetSwapInterval(1);
  }
  ~Window() { SDL_Quit(); }
  Window(const Window&) = delete;
  Window& operator=(const Window&) = delete;

  void show() const { SDL_GL_SwapWindow(window_); }

  static void save(const std::string& file) {
    std::vector<unsigned char> pixels(4U * width * height), rows(pixels.size());
    glReadPixels(0, 0, width, height, GL_RGBA, GL_UNSIGNED_BYTE, pixels.data());
    for (std::size_t row = 0; row < height; ++row)  // the lowest row is the first
      std::copy_n(&pixels[4 * width * (height - 1 - row)], 4 * width, &rows[4 * width * row]);
    SDL_Surface* const picture =
        SDL_CreateRGBSurfaceFrom(rows.data(), width, height, 32, 4 * width, 0xFF, 0xFF00, 0xFF0000, 0);
    if (!picture || SDL_SaveBMP(picture, file.c_str()) != 0) fail(file);
    SDL_FreeSurface(picture);
  }

 private:
  SDL_Window* window_ = nullptr;
};

void push_key(const std::string& name) {
  SDL_Event event{};
  event.type = SDL_KEYDOWN;
  event.key.keysym.sym = SDL_GetKeyFromName(name.c_str());
  SDL_PushEvent(&event);
}

/// The scene of a file that is read again whenever it is saved.
class WatchedScene {
 public:
  explicit WatchedScene(std::filesystem::path file) : file_{std::move(file)}, scene{read(file_)} { see(); }

  void reload_if_saved() {
    if (!see()) return;
    try {
      for (const std::string& lost : reload(scene, file_)) std::fprintf(stderr, "%s\n", lost.c_str());
    } catch (const LoadError& error) {  // the scene plays on
      std::fprintf(stderr, "%s\n", error.what());
    }
  }

 private:
  /// With scripts; the scene remembers that when it is read again.
  static Scene read(const std::filesystem::path& file) {
    Kinds kinds;
    add_scripts(kinds);
    return std::move(read_scene_file(file, {.kinds = &kinds}).scene);
  }
  bool see() {
    std::error_code gone;
    const auto saved = std::filesystem::last_write_time(file_, gone);
    return !gone && std::exchange(saved_, saved) != saved;
  }

  std::filesystem::path file_;
  std::filesystem::file_time_type saved_ = {};

 public:
  Scene scene;
};

int play(const Arguments& arguments) {
  WatchedScene watched{arguments.scene};
  Scene& harbour = watched.scene;
  const Window window;
  Drawing drawing;
  std::optional<LiveServer> page;
  Angle around = degrees(20);
  for (const std::string& key : arguments.pressed) push_key(key);

  auto before = std::chrono::steady_clock::now();
  bool goes_on = true;
  for (int frame = 0; goes_on && (arguments.frames == 0 || frame < arguments.frames); ++frame) {
    SDL_Event event;
    while (SDL_PollEvent(&event)) {
      if (event.type == SDL_QUIT) goes_on = false;
      const bool goes_down = event.type == SDL_KEYDOWN;
      if ((!goes_down && event.type != SDL_KEYUP) || event.key.repeat) continue;
      const std::string key = SDL_GetKeyName(event.key.keysym.sym);
      goes_down ? harbour.press(key) : harbour.release(key);
      if (!goes_down) continue;
      if (key == "Left") around = around - degrees(10);
      if (key == "Right") around = around + degrees(10);
      if (key == "Escape") goes_on = false;
      if (key == "F1" && !page) {
        page.emplace(harbour);
        std::fprintf(stderr, "play mode: %s\n", page->address().c_str());
        if (arguments.frames == 0) SDL_OpenURL(page->address().c_str());
      }
    }
    if (!page) watched.reload_if_saved();  // play mode reads the file itself

    const auto now = std::chrono::steady_clock::now();
    const Time step =
        arguments.frames > 0 ? frame_time(1, 60) : seconds(std::chrono::duration<double>(now - before).count());
    before = now;
    page ? page->serve(step) : harbour.advance(step);
    drawing.draw(harbour, view_from(around, Window::width, Window::height));
    window.show();
  }
  if (!arguments.picture.empty()) {
    drawing.draw(harbour, view_from(around, Window::width, Window::height));
    Window::save(arguments.picture);
  }
  const auto pilot = harbour.find("pilot");
  const Vec3 place = pilot ? harbour.world(*pilot).position : Vec3{0, 0, 0};
  std::printf("%.3f s, %zu objects in one call%s; the pilot boat is at %.3f %.3f\n", in_seconds(harbour.time()),
              drawing.drawn(), page ? ", a page" : "", place.x(), place.z());
  return 0;
}

}  // namespace

int main(int count, char** words) {
  try {
    return play(arguments_of(count, words));
  } catch (const std::exception& error) {
    std::fprintf(stderr, "%s\n", error.what());
    return 1;
  }
}

// Prints with --frames 60 --press W,F1 --picture harbour.bmp:
// 1.000 s, 73 objects in one call, a page; the pilot boat is at -5.410 21.000
