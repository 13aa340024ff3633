// SPDX-License-Identifier: MIT
#include "picture_file.hpp"

#include <hushed/detail/new_file.hpp>
#include <hushed/error.hpp>

#include "style.hpp"

namespace hushed::detail {

namespace {

Canvas::Form form_of(const std::filesystem::path& file, int width, int height) {
  for (const int side : {width, height})
    if (side < 320 || side > 10'000)
      throw BadValue{"the picture cannot be " + std::to_string(side) + " pixels wide or high; give 320 to 10000."};
  if (file.extension() == ".png") return Canvas::Form::png;
  if (file.extension() == ".svg") return Canvas::Form::svg;
  throw BadValue{file.string() + ": unknown format; give a file that ends in .png or .svg."};
}

}  // namespace

PictureFile::PictureFile(const std::filesystem::path& file, int width, int height)
    : file_{file}, canvas_{form_of(file, width, height), width, height} {
  canvas_.fill(canvas_.whole(), Paint::of(style::paper));
}

void PictureFile::write() {
  NewFile to{file_};
  to.write(canvas_.finish());
  to.commit();
}

}  // namespace hushed::detail
