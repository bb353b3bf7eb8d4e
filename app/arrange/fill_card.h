// SPDX-License-Identifier: GPL-3.0-or-later
// How the section's passes end: by a recipe, from the library or from a groove, seen, tried and
// heard before it is taken.
#pragma once

#include "app/arrange/arranging.h"
#include "app/controls/field_card.h"

namespace uneven {

class FillPicture;

class FillCard : public FieldCard {
  Q_OBJECT
 public:
  explicit FillCard(Arranging& arranging, QWidget* parent = nullptr);

  // The section's last groove with the fill that the fields ask for; nothing: there is none.
  const std::optional<Groove>& preview() const { return preview_; }
  void take();

 Q_SIGNALS:
  void hearWanted();

 protected:
  void read() override;

 private:
  struct Source {
    std::string recipe;  // or
    std::string groove;  // id, of the song or of the library
  };
  void makePreview();
  FillPlan plan() const;

  Arranging& arranging_;
  Source source_{"toms", {}};
  Beat beats_{2};
  int every_ = 0, seed_ = 1;
  bool another_ = false;
  FillAfter after_ = FillAfter::kNothing;
  std::optional<std::size_t> of_;  // section that the fields were read from
  std::optional<Groove> preview_;
  Groove base_;
  QLabel* says_ = nullptr;
  FillPicture* picture_ = nullptr;
};

}  // namespace uneven
