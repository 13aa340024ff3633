// SPDX-License-Identifier: MIT
// Compiled without the include path of Eigen: headers that contain only the mathematics of kernels must not need it.

#include "lanes/clock.hpp"
#include "lanes/damped_spring.hpp"
#include "lanes/exponential.hpp"
#include "lanes/facing.hpp"
#include "lanes/geometry.hpp"
#include "lanes/loop.hpp"
#include "lanes/memory.hpp"
#include "lanes/newton.hpp"
#include "lanes/pose_blocks.hpp"
#include "lanes/real.hpp"
#include "lanes/trigonometry.hpp"
#include "lanes/variant.hpp"
