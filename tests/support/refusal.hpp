// SPDX-License-Identifier: MIT
#pragma once

#include <string>

#include <hushed/hushed.hpp>

namespace hushed::tests {

/// The error where a behaviour cannot be given to an object; "accepted" where it can.
template <class B>
std::string refusal(Scene& scene, Object object, const B& behaviour) {
  try {
    scene.give(object, behaviour);
  } catch (const BadValue& error) {
    return error.what();
  }
  return "accepted";
}

}  // namespace hushed::tests
