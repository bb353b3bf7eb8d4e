// SPDX-License-Identifier: GPL-3.0-or-later
// Players on disk.
#include "app/stage/players.h"

#include <QDir>
#include <QRegularExpression>
#include <algorithm>

#include "app/controls/labels.h"
#include "core/io/atomic_save.h"
#include "core/io/profile_json.h"

namespace uneven {

Players::Players(FileSystem& files, QString folder, QObject* parent)
    : QObject(parent), files_(files), folder_(std::move(folder)) {}

const std::vector<Profile>& Players::all() {
  if (read_) return all_;
  read_ = true;
  std::vector<std::string> names = files_.namesIn(folder_.toStdString(), "");
  std::sort(names.begin(), names.end());
  for (const std::string& name : names) {
    if (!qs(name).endsWith(QStringLiteral(".json"))) continue;
    const std::string path = folder_.toStdString() + "/" + name;
    const Result<std::string> text = files_.read(path);
    Result<Profile> profile = text ? readProfile(*text, path) : text.error();
    if (!profile) {
      unread_ << qs(profile.error().line());
    } else if (find(profile->id) == nullptr) {
      all_.push_back(*std::move(profile));
    }
  }
  return all_;
}

const Profile* Players::find(const std::string& id) {
  all();
  const auto found =
      std::find_if(all_.begin(), all_.end(), [&](const Profile& p) { return p.id == id; });
  return found == all_.end() ? nullptr : &*found;
}

const Profile& Players::orDefault(const std::string& id) {
  const Profile* found = id.empty() ? nullptr : find(id);
  return found == nullptr ? all().front() : *found;
}

Status Players::keep(Profile profile) {
  all();
  QDir().mkpath(folder_);
  const QString path = folder_ + QLatin1Char('/') + qs(profile.id) + QStringLiteral(".json");
  const Status saved = saveAtomically(files_, path.toStdString(), writeProfile(profile));
  const auto known =
      std::find_if(all_.begin(), all_.end(), [&](const Profile& p) { return p.id == profile.id; });
  if (known == all_.end()) {
    all_.push_back(std::move(profile));
  } else {
    *known = std::move(profile);
  }
  Q_EMIT changed();
  return saved;
}

Result<Profile> Players::bring(const std::string& file) {
  const Result<std::string> text = files_.read(file);
  if (!text) return text.error();
  Result<Profile> profile = readProfile(*text, file);
  if (!profile) return profile;
  // Ids are file names here.
  profile->id = idFor(qs(profile->name));
  if (const Status kept = keep(*profile); !kept) return kept.error();
  return profile;
}

std::string Players::idFor(const QString& name) {
  QString plain = name.toLower();
  plain.replace(QRegularExpression(QStringLiteral("[^a-z0-9]+")), QStringLiteral("-"));
  plain = plain.left(40);
  if (plain.isEmpty() || plain == QStringLiteral("-")) plain = QStringLiteral("player");
  QString id = plain;
  for (int i = 2; find(id.toStdString()) != nullptr; ++i)
    id = QStringLiteral("%1-%2").arg(plain).arg(i);
  return id.toStdString();
}

}  // namespace uneven
