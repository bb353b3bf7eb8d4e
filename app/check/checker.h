// SPDX-License-Identifier: GPL-3.0-or-later
// Looks at the song aside, after every edit; never tells of another song than the one shown.
#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <QTimer>
#include <memory>

#include "app/edit/editing.h"
#include "core/body/ways.h"
#include "core/check/check.h"

namespace uneven {

// What was found in one state of the song.
struct Looked {
  std::uint64_t revision = 0;
  std::string groove;
  Checked checked;                   // of the whole song; of the groove where it cannot be arranged
  std::optional<HandReport> report;  // of the groove
};

class Checker : public QObject {
  Q_OBJECT
 public:
  explicit Checker(Editing& editing, QObject* parent = nullptr);
  ~Checker() override;

  // While nobody looks nothing is computed.
  void setWanted(bool wanted);
  // Of the song and groove as they are; nullptr: still being looked for.
  const Looked* now() const;
  const Profile& profile() const { return profile_; }

 Q_SIGNALS:
  void looked();  // now() has another answer, or none for the moment

 private:
  void songChanged();
  void begin();

  Editing& editing_;
  Profile profile_;
  bool wanted_ = false;
  QTimer soon_;  // many edits between two frames are looked at once
  QFutureWatcher<std::shared_ptr<Looked>> worker_;
  std::shared_ptr<Looked> last_;
};

}  // namespace uneven
