// SPDX-License-Identifier: GPL-3.0-or-later
// Looks at the song aside, after every edit; never tells of another song than the one shown.
#pragma once

#include <QObject>
#include <QTimer>
#include <functional>
#include <memory>

#include "app/controls/aside.h"
#include "app/edit/editing.h"
#include "app/stage/players.h"
#include "core/check/check.h"
#include "core/playing/hardness.h"

namespace uneven {

// What was found in one state of the song.
struct Looked {
  // The groove shown there, and whom it is for.
  struct Of {
    std::uint64_t revision = 0;
    std::string groove;
    AtPlace at;
    Profile profile;
    bool operator==(const Of&) const = default;
  };
  Of of;
  Checked checked;                   // of the whole song; of the groove where it cannot be arranged
  std::optional<HandReport> report;  // of the groove
  Ceiling asPlayed;                  // of the hands that it is played with
  std::vector<WayBand> bands;
  std::vector<OtherWay> ways;  // to play it
  HardnessReport hard;
  std::map<HitRef, Limb> hands;  // of the groove's hits
};

class Checker : public QObject {
  Q_OBJECT
 public:
  Checker(Editing& editing, Players& players, QObject* parent = nullptr);

  // While nobody waits for it, it looks when the hand rests; before begin() not at all.
  void begin();
  void setWaitedFor(bool waited);
  // Of the song, groove and player as they are; nullptr: still being looked for.
  const Looked* now() const;
  const Profile& profile() const;
  bool busy() const { return now() == nullptr; }
  Players& players() { return players_; }

 Q_SIGNALS:
  void looked();  // now() has another answer, or none for the moment

 private:
  void songChanged();
  void look();
  Looked::Of shown() const;

  Editing& editing_;
  Players& players_;
  bool begun_ = false, waited_ = false;
  QTimer soon_;                   // many edits between two frames are looked at once
  Looked::Of asked_;              // last
  std::shared_ptr<Looked> last_;  // nullptr: none yet, or it was told to stop
  Aside<std::shared_ptr<Looked>> looking_;
};

}  // namespace uneven
