// SPDX-License-Identifier: GPL-3.0-or-later
// The players that this machine knows: one JSON file each in a folder of their own
// (docs/file-format.md), and the one from memory that comes with the program.
#pragma once

#include <QObject>
#include <QString>
#include <optional>
#include <vector>

#include "core/body/profile.h"
#include "core/io/file_system.h"

namespace uneven {

class Players : public QObject {
  Q_OBJECT
 public:
  Players(FileSystem& files, QString folder, QObject* parent = nullptr);

  // The default one first. Read when first asked for; a file that cannot be read is left out.
  const std::vector<Profile>& all();
  // The player of that id, else the default one.
  const Profile& orDefault(const std::string& id);
  // nullptr when there is none of that id.
  const Profile* find(const std::string& id);
  // In place of the one of its id, on disk too. Errors of writing leave the file as it was.
  Status keep(Profile profile);
  // A file from elsewhere. Errors: those of reading it.
  Result<Profile> bring(const std::string& file);
  // An id that no other player has, from a name.
  std::string idFor(const QString& name);
  // Files that could not be read, in words.
  const QStringList& unread() const { return unread_; }

 Q_SIGNALS:
  void changed();

 private:
  FileSystem& files_;
  QString folder_;
  bool read_ = false;
  std::vector<Profile> all_{Profile{}};
  QStringList unread_;
};

}  // namespace uneven
