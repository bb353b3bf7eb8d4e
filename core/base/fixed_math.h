// SPDX-License-Identifier: GPL-3.0-or-later
// Elementary functions that give the same bits on every machine.
//
// The machine's own library may round its exp, log and pow as it likes, so what hangs on the last
// bit of a result (drift: the same song renders the same bytes everywhere) uses these. They are
// made of
// + - * / on IEEE doubles in a fixed order and nothing else; contraction is off in all our builds.
// Within a few units in the last place of the true values over the ranges given. Threads: pure.
#pragma once

namespace uneven::fixed {

// x > 0 and finite, not subnormal. By powers of two and the series of atanh.
double log(double x);
// -700 < x < 700. By powers of two and the Taylor series.
double exp(double x);
// exp(x) - 1 without cancellation near 0.
double expm1(double x);
// exp(y log x), x > 0: a relative error of about |y log x| units in the last place.
double pow(double x, double y);
// The gamma function, 0 < x < 16: Stirling's series (Abramowitz & Stegun 1964, 6.1.40) beyond 16,
// brought down by the recurrence.
double gamma(double x);

}  // namespace uneven::fixed
