// SPDX-License-Identifier: GPL-3.0-or-later
// Sockets with names.
#include "app/frame/only_window.h"

#include <sys/socket.h>
#include <sys/un.h>
#include <unistd.h>

#include <QCryptographicHash>
#include <QFileInfo>
#include <QSocketNotifier>
#include <cerrno>
#include <cstring>

namespace uneven {
namespace {

// A name outside of the file system: it begins with a zero.
sockaddr_un addressOf(const QString& file, socklen_t& length) {
  const QFileInfo info(file);
  const QString canonical = info.exists() ? info.canonicalFilePath()
                                          : QFileInfo(info.absolutePath()).canonicalFilePath() +
                                                QLatin1Char('/') + info.fileName();
  const QByteArray name =
      "uneven-stick/" + QByteArray::number(::getuid()) + '/' +
      QCryptographicHash::hash(canonical.toUtf8(), QCryptographicHash::Sha256).toHex();
  sockaddr_un out{};
  out.sun_family = AF_UNIX;
  std::memcpy(out.sun_path + 1, name.constData(), static_cast<std::size_t>(name.size()));
  length = static_cast<socklen_t>(offsetof(sockaddr_un, sun_path) + 1 +
                                  static_cast<std::size_t>(name.size()));
  return out;
}

}  // namespace

std::unique_ptr<OnlyWindow> OnlyWindow::of(const QString& file, std::function<void()> knocked) {
  const int made = ::socket(AF_UNIX, SOCK_DGRAM | SOCK_CLOEXEC | SOCK_NONBLOCK, 0);
  socklen_t length = 0;
  const sockaddr_un address = addressOf(file, length);
  const auto* at = reinterpret_cast<const sockaddr*>(&address);
  if (made >= 0 && ::bind(made, at, length) != 0) {
    const bool taken = errno == EADDRINUSE;
    if (taken) ::sendto(made, "k", 1, 0, at, length);
    ::close(made);
    if (taken) return nullptr;
    return std::unique_ptr<OnlyWindow>(new OnlyWindow(-1, {}));
  }
  return std::unique_ptr<OnlyWindow>(new OnlyWindow(made, std::move(knocked)));
}

OnlyWindow::OnlyWindow(int socket, std::function<void()> knocked)
    : socket_(socket), knocked_(std::move(knocked)) {
  if (socket_ < 0) return;
  auto* notifier = new QSocketNotifier(socket_, QSocketNotifier::Read, this);
  connect(notifier, &QSocketNotifier::activated, this, [this] {
    char knock = 0;
    bool any = false;
    while (::recv(socket_, &knock, 1, 0) > 0) any = true;
    if (any && knocked_) knocked_();
  });
}

OnlyWindow::~OnlyWindow() {
  if (socket_ >= 0) ::close(socket_);
}

}  // namespace uneven
