// SPDX-License-Identifier: GPL-3.0-or-later
// Steps of tempo, summed.
#include "core/time/tempo_map.h"

#include <algorithm>
#include <cassert>

namespace uneven {
namespace {

// Index of the last entry <= value; 0 when value lies before all.
std::size_t lastAtOrBefore(const std::vector<double>& starts, double value) {
  const auto after = std::upper_bound(starts.begin(), starts.end(), value);
  return after == starts.begin() ? 0 : static_cast<std::size_t>(after - starts.begin()) - 1;
}

}  // namespace

TempoMap::TempoMap(std::vector<Step> steps) : steps_(std::move(steps)) {
  assert(!steps_.empty() && steps_.front().at == Beat(0));
  startQuarters_.reserve(steps_.size());
  startMs_.reserve(steps_.size());
  double ms = 0;
  for (std::size_t i = 0; i < steps_.size(); ++i) {
    const double at = steps_[i].at.toDouble();
    if (i > 0) ms += (at - startQuarters_[i - 1]) * steps_[i - 1].tempo.quarter().count();
    startQuarters_.push_back(at);
    startMs_.push_back(ms);
  }
}

Tempo TempoMap::tempoAt(Beat at) const {
  const auto after = std::upper_bound(steps_.begin(), steps_.end(), at,
                                      [](Beat b, const Step& s) { return b < s.at; });
  return after == steps_.begin() ? steps_.front().tempo : std::prev(after)->tempo;
}

bool TempoMap::holdsOver(Beat from, Beat to) const {
  const auto next = std::upper_bound(steps_.begin(), steps_.end(), from,
                                     [](Beat b, const Step& s) { return b < s.at; });
  return next == steps_.end() || next->at >= to;
}

Milliseconds TempoMap::msAt(Quarters quarters) const {
  const std::size_t i = lastAtOrBefore(startQuarters_, quarters.value());
  return Milliseconds(startMs_[i] +
                      (quarters.value() - startQuarters_[i]) * steps_[i].tempo.quarter().count());
}

Quarters TempoMap::quartersAt(Milliseconds ms) const {
  const std::size_t i = lastAtOrBefore(startMs_, ms.count());
  return Quarters(startQuarters_[i] +
                  (ms.count() - startMs_[i]) / steps_[i].tempo.quarter().count());
}

Milliseconds TempoMap::Cursor::msAt(Quarters at) {
  const double quarters = at.value();
  const auto& starts = map_->startQuarters_;
  while (step_ > 0 && quarters < starts[step_]) --step_;
  while (step_ + 1 < starts.size() && quarters >= starts[step_ + 1]) ++step_;
  return Milliseconds(map_->startMs_[step_] +
                      (quarters - starts[step_]) * map_->steps_[step_].tempo.quarter().count());
}

}  // namespace uneven
