// SPDX-License-Identifier: GPL-3.0-or-later
// The finder.
#include "app/frame/finder.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QRegularExpression>
#include <QTimer>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

#include "app/controls/labels.h"
#include "app/controls/theme.h"

namespace uneven {

namespace {

// What drummers call things that are called otherwise here.
QString otherWords(const QString& text) {
  struct Called {
    const char* here;
    const char* elsewhere;
  };
  static constexpr Called kCalled[] = {
      {"displace", "laid back late behind drag push ahead early rushed timing microtiming"},
      {"shift", "laid back late behind push ahead early"},
      {"lean", "laid back late behind push ahead early timing microtiming"},
      {"nudge", "laid back late behind push ahead early timing"},
      {"drift", "human humanize feel loose natural random"},
      {"swing", "shuffle groove triplet feel"},
      {"velocity", "dynamics loudness level volume how hard"},
      {"accent", "dynamics loud emphasis"},
      {"ghost", "soft quiet"},
      {"round", "loop repeat cycle"},
      {"plays", "loop repeat cycle range"},
      {"click", "metronome count"},
      {"tempo", "bpm speed fast slow"},
      {"opening", "open hat bark splash pedal"},
      {"pedal", "open hat foot"},
      {"fill", "toms roll break"},
      {"rudiment", "sticking practice"},
      {"sticking", "rudiment paradiddle hands"},
      {"mirror", "left-handed lefty"},
      {"hands", "sticking left right"},
      {"check", "playable problems errors"},
      {"audio", "wav flac bounce export render"},
      {"midi", "export file"},
      {"kit map", "notes keys sampler"},
      {"bank", "samples sound soundfont"},
  };
  QString out;
  for (const Called& called : kCalled) {
    if (text.contains(QLatin1String(called.here), Qt::CaseInsensitive))
      out += QLatin1Char(' ') + QLatin1String(called.elsewhere);
  }
  return out;
}

}  // namespace

std::vector<const Found*> matching(const std::vector<Found>& all, const QString& typed) {
  std::vector<QRegularExpression> words;
  for (const QString& word : typed.split(QLatin1Char(' '), Qt::SkipEmptyParts)) {
    words.emplace_back(
        QStringLiteral("(^|[^\\w])") + QRegularExpression::escape(word),
        QRegularExpression::CaseInsensitiveOption | QRegularExpression::UseUnicodePropertiesOption);
  }
  using Ranked = std::pair<int, const Found*>;
  std::vector<Ranked> ranked;
  for (const Found& found : all) {
    const QString plain = found.title + QLatin1Char(' ') + found.kind + QLatin1Char(' ') +
                          found.keys + QLatin1Char(' ') + found.also;
    const QString text = plain + QLatin1Char(' ') + otherWords(plain);
    const bool fits = std::all_of(words.begin(), words.end(), [&](const QRegularExpression& word) {
      return word.match(text).hasMatch();
    });
    if (!fits) continue;
    const QString wanted = typed.trimmed();
    const int rank = found.title.compare(wanted, Qt::CaseInsensitive) == 0 ? 0
                     : found.title.startsWith(wanted, Qt::CaseInsensitive) ? 1
                     : found.title.contains(wanted, Qt::CaseInsensitive)   ? 2
                                                                           : 3;
    ranked.emplace_back(rank, &found);
  }
  std::stable_sort(ranked.begin(), ranked.end(),
                   [](const Ranked& a, const Ranked& b) { return a.first < b.first; });
  std::vector<const Found*> out;
  for (const Ranked& r : ranked) out.push_back(r.second);
  return out;
}

Finder::Finder(std::vector<Found> all, QWidget* parent)
    : QDialog(parent),
      all_(std::move(all)),
      field_(new QLineEdit(this)),
      list_(new QTreeWidget(this)),
      none_(quietLabel(tr("Nothing is called that"), this)) {
  setObjectName(QStringLiteral("finder"));
  setWindowTitle(tr("Find"));
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(24, 18, 24, 18);
  down->setSpacing(12);
  field_->setObjectName(QStringLiteral("finder-search"));
  field_->setPlaceholderText(
      tr("An action, a field, a card, a tool, a rudiment, a groove, a feel, a section"));
  field_->setAccessibleName(tr("What you look for"));
  field_->setMinimumHeight(30);
  field_->installEventFilter(this);
  down->addWidget(field_);
  list_->setObjectName(QStringLiteral("finder-list"));
  list_->setAccessibleName(tr("What is called so"));
  list_->setColumnCount(3);
  list_->setHeaderHidden(true);
  list_->setStyleSheet(
      theme::sheet("QTreeWidget { background: @card; border: 1px solid @line; outline: none; }"
                   "QTreeWidget::item { border: none; padding: 4px 6px; }"
                   "QTreeWidget::item:selected { background: @chosen; color: @ink; }"));
  list_->setRootIsDecorated(false);
  list_->setUniformRowHeights(true);
  list_->setFrameShape(QFrame::NoFrame);
  list_->setFocusPolicy(Qt::NoFocus);  // the field's keys move through it
  list_->header()->setStretchLastSection(false);
  list_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
  list_->header()->resizeSection(1, 190);
  list_->header()->resizeSection(2, 130);
  down->addWidget(list_, 1);
  down->addWidget(none_);
  down->addWidget(
      quietLabel(tr("Enter does it or goes there, up and down choose, Esc leaves"), this));
  connect(field_, &QLineEdit::textChanged, this, &Finder::search);
  connect(list_, &QTreeWidget::itemActivated, this, &Finder::run);
  connect(list_, &QTreeWidget::itemClicked, this, &Finder::run);
  resize(640, 480);
  search({});
  field_->setFocus();
}

void Finder::search(const QString& typed) {
  shown_ = matching(all_, typed);
  list_->clear();
  for (const Found* found : shown_) {
    auto* item = new QTreeWidgetItem(list_, {found->title, found->kind, found->keys});
    item->setForeground(1, theme::kQuiet);
    item->setForeground(2, theme::kQuiet);
  }
  list_->setCurrentItem(list_->topLevelItem(0));
  none_->setVisible(shown_.empty());
}

// The dialog goes first: what is run may open another, or want the focus.
void Finder::run() {
  const int row = list_->indexOfTopLevelItem(list_->currentItem());
  if (row < 0) return;
  QTimer::singleShot(0, parentWidget(), shown_[static_cast<std::size_t>(row)]->run);
  accept();
}

bool Finder::eventFilter(QObject* watched, QEvent* event) {
  if (watched != field_ || event->type() != QEvent::KeyPress) {
    return QDialog::eventFilter(watched, event);
  }
  const int rows = list_->topLevelItemCount();
  const int row = list_->indexOfTopLevelItem(list_->currentItem());
  const auto go = [&](int to) {
    if (rows > 0) list_->setCurrentItem(list_->topLevelItem(std::clamp(to, 0, rows - 1)));
    return true;
  };
  switch (static_cast<QKeyEvent*>(event)->key()) {
    case Qt::Key_Down:
      return go(row + 1);
    case Qt::Key_Up:
      return go(row - 1);
    case Qt::Key_PageDown:
      return go(row + 10);
    case Qt::Key_PageUp:
      return go(row - 10);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      run();
      return true;
    default:
      return QDialog::eventFilter(watched, event);
  }
}

}  // namespace uneven
