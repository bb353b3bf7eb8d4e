// SPDX-License-Identifier: GPL-3.0-or-later
// The card of a section.
#include "app/arrange/section_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/arrange/strip_view.h"
#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "core/arrange/joints.h"
#include "core/song/names.h"

namespace uneven {
namespace {

constexpr const char* kAsWritten = "as written";

bool keepsTime(const std::string& id) {
  return id == "hat" || id == "ride" || id == "cowbell";
}

// "Fog ×3, Turn": what is played in turn.
QString playsText(const Song& song, const Section& section) {
  QStringList out;
  const std::vector<std::string> pass = section.pass();
  for (std::size_t i = 0; i < pass.size();) {
    std::size_t same = i;
    while (same < pass.size() && pass[same] == pass[i]) ++same;
    const Groove* groove = song.findGroove(pass[i]);
    const QString name = groove == nullptr || groove->name.find(',') != std::string::npos
                             ? qs(pass[i])
                             : qs(groove->name);
    out << (same - i > 1 ? QStringLiteral("%1 ×%2").arg(name).arg(same - i) : name);
    i = same;
  }
  return out.join(QStringLiteral(", "));
}

}  // namespace

SectionCard::SectionCard(Arranging& arranging, QWidget* parent)
    : FieldCard(parent), arranging_(arranging) {
  const auto change = [this](const QString& step, const std::function<void(Section&)>& edit,
                             Merge merge = {}) { arranging_.change(step, edit, merge); };
  QGridLayout* grid = section(tr("Section"));
  addLine(
      grid, {tr("Name"), "section-name", tr("Also the marker in MIDI files")},
      [this] { return qs(arranging_.chosen().name); },
      [this](const QString& text) {
        arranging_.apply(
            tr("Section %1").arg(text),
            withSectionNamed(arranging_.song(), arranging_.section(), text.toStdString()));
      });
  addLine(
      grid,
      {tr("Plays"), "section-plays",
       tr("Names or ids of grooves, with commas where several go in turn: Fog ×3, Turn")},
      [this] { return playsText(arranging_.song(), arranging_.chosen()); },
      [this](const QString& text) { setPlays(text); });
  const int times = Document::newMergeKey();
  addNumber(
      grid, {tr("Times"), "section-times", tr("Passes, 1 to 20000 (+ and −)")}, {},
      {1, kSongBarsMax, 1, 0, false}, [this] { return arranging_.chosen().repeat; },
      [this, times](double n, bool stepped) {
        arranging_.setTimes(static_cast<int>(n), {stepped ? times : 0, true});
      });
  addChoice(
      grid, {tr("Feel"), "section-feel", tr("In place of the grooves' own")},
      [this](ChoiceField& field) {
        field.addItem(tr("The groove's own"), QString());
        for (const Feel& feel : arranging_.song().feels) field.addItem(qs(feel.name), qs(feel.id));
      },
      [this] { return qs(arranging_.chosen().feel); },
      [change](const QVariant& id) {
        change(tr("Feel"), [&](Section& s) { s.feel = id.toString().toStdString(); });
      });
  const int level = Document::newMergeKey(), end = Document::newMergeKey();
  addNumber(
      grid, {tr("Level"), "section-level", tr("dB of every velocity (up and down)")}, tr("dB"),
      {-kLevelDbMost, kLevelDbMost, 1, 1, true}, [this] { return arranging_.chosen().levelDb; },
      [change, level](double db, bool stepped) {
        change(tr("Level %1 dB").arg(db), [&](Section& s) { s.levelDb = db; },
               {stepped ? level : 0, true});
      });
  addNumber(
      grid,
      {tr("At its end"), "section-end-level",
       tr("dB, evenly from its beginning on (Shift and up or down)")},
      tr("dB"), {-kLevelDbMost, kLevelDbMost, 1, 1, true},
      [this] {
        const Section& s = arranging_.chosen();
        return s.toLevelDb.value_or(s.levelDb);
      },
      [change, end](double db, bool stepped) {
        change(tr("Level at the end %1 dB").arg(db),
               [&](Section& s) {
                 s.toLevelDb = db;
                 if (s.toLevelDb == s.levelDb) s.toLevelDb.reset();
               },
               {stepped ? end : 0, true});
      });
  addChoice(
      grid, {tr("Ride hand on"), "section-ride-hand", tr("Where what keeps time is struck")},
      [this](ChoiceField& field) {
        field.addItem(tr("As written"), QString::fromLatin1(kAsWritten));
        for (const char* id : {"hat", "ride", "crash", "china", "stack", "cowbell", "tom-floor"}) {
          if (const auto piece = arranging_.song().kit->find(id))
            field.addItem(qs((*arranging_.song().kit)[*piece].name), QString::fromLatin1(id));
        }
      },
      [this]() -> QVariant {
        for (const auto& [from, to] : arranging_.chosen().swap) {
          if (keepsTime(from)) return qs(to);
        }
        return QString::fromLatin1(kAsWritten);
      },
      [change](const QVariant& id) {
        const std::string to = id.toString().toStdString();
        change(tr("Ride hand on %1").arg(id.toString()), [&](Section& s) {
          std::erase_if(s.swap, [](const auto& pair) { return keepsTime(pair.first); });
          if (to == kAsWritten) return;
          for (const char* from : {"hat", "ride"}) {
            if (to != from) s.swap[from] = to;
          }
        });
      });
  addLine(
      grid,
      {tr("Leaves out"), "section-mute",
       tr("Pieces and limbs with commas: hat, left-foot; nothing: all play")},
      [this] {
        QStringList out;
        for (const std::string& word : arranging_.chosen().mute) out << qs(word);
        return out.join(QStringLiteral(", "));
      },
      [this](const QString& text) { setMute(text); });
  addChoice(
      grid, {tr("Crash on 1"), "section-crash", tr("In place of the ride hand's first stroke")},
      [this](ChoiceField& field) {
        field.addItem(tr("No"), QString());
        for (const char* id : {"crash", "crash-2", "china", "splash", "stack"}) {
          if (const auto piece = arranging_.song().kit->find(id))
            field.addItem(qs((*arranging_.song().kit)[*piece].name), QString::fromLatin1(id));
        }
      },
      [this] {
        const auto& crash = arranging_.chosen().crash;
        return crash ? qs(crash->piece) : QString();
      },
      [change](const QVariant& id) {
        change(tr("Crash on 1"), [&](Section& s) {
          const std::string piece = id.toString().toStdString();
          const Velocity velocity = s.crash ? s.crash->velocity : Velocity(112);
          s.crash.reset();
          if (!piece.empty()) s.crash = SectionCrash{piece, velocity, {}};
        });
      });

  grid = section(tr("Into it"));
  const int morph = Document::newMergeKey();
  addNumber(
      grid,
      {tr("Turns over"), "section-morph",
       tr("Quarter notes over which the feel before becomes this one; 0: at once")},
      tr("quarters"), {0, 256, 1, 1, false},
      [this] { return arranging_.chosen().morph.toDouble(); },
      [change, morph](double beats, bool stepped) {
        change(tr("Turns over %1 quarters").arg(beats),
               [&](Section& s) { s.morph = Beat(roundToInt(2 * beats), 2); },
               {stepped ? morph : 0, true});
      });
  aim_ = new NumberField(QStringLiteral("ms"), {1, 200, 1, 1, false}, this);
  aim_->setValue(StripView::kJumpMost);
  addRow(grid, tr("Jump at most"), aim_, QStringLiteral("section-aim"),
         tr("What an interval may change by at the seam, ms"));
  connect(aim_, &NumberField::edited, this, [this] { read(); });
  into_ = addText(QStringLiteral("section-into"));
  smooth_ = addButton(tr("Smooth the seam"), QStringLiteral("section-smooth"),
                      tr("The shortest turn at which no interval jumps by more"),
                      [this] { arranging_.smooth(aim_->value().value_or(StripView::kJumpMost)); });
  down_->addSpacing(8);
  addButton(tr("Split here"), QStringLiteral("section-split"),
            tr("Before the chosen bar, else in the middle (S)"), [this] { arranging_.split(); });
  addButton(
      tr("Join"), QStringLiteral("section-join"), tr("It and the next one as one (J)"),
      [this] { arranging_.join(); }, true);
  addButton(tr("Duplicate"), QStringLiteral("section-duplicate"), tr("Once more behind itself (D)"),
            [this] { arranging_.duplicate(); });
  addButton(
      tr("Delete"), QStringLiteral("section-delete"), tr("Away with it (Delete)"),
      [this] { arranging_.remove(); }, true);
  addButton(tr("Write out"), QStringLiteral("section-write-out"),
            tr("Each of its bars becomes a groove of its own (W)"),
            [this] { arranging_.writeOut(); });
  addButton(
      tr("Fold the song"), QStringLiteral("song-fold"),
      tr("Equal bars are played by one groove again"), [this] { arranging_.fold(); }, true);
  addStretch();
  connect(&arranging_, &Arranging::changed, this, [this] {
    if (isVisible()) read();
  });
}

void SectionCard::read() {
  FieldCard::read();
  const auto seam = seamAt(arranging_.song(), arranging_.section());
  smooth_->setEnabled(seam.has_value());
  if (!seam) {
    into_->setText(arranging_.section() == 0 ? tr("The song begins with it.")
                                             : tr("The feel before goes on."));
    return;
  }
  const double most = aim_->value().value_or(StripView::kJumpMost);
  into_->setText(seam->jump.count() > most
                     ? tr("An interval jumps by %1.").arg(plainMs(seam->jump))
                     : tr("No interval jumps by more than %1.").arg(plainMs(seam->jump)));
}

void SectionCard::setPlays(const QString& text) {
  const Song& song = arranging_.song();
  std::vector<std::string> grooves;
  for (QString word : text.split(QLatin1Char(','), Qt::SkipEmptyParts)) {
    word = word.trimmed();
    int times = 1;
    const qsizetype sign =
        std::max(word.lastIndexOf(QChar(0xD7)), word.lastIndexOf(QStringLiteral(" x")));
    if (sign > 0) {
      bool number = false;
      const int read =
          word.mid(sign).remove(QChar(0xD7)).remove(QLatin1Char('x')).trimmed().toInt(&number);
      if (number && read >= 1 && read <= 1'000) {
        times = read;
        word = word.left(sign).trimmed();
      }
    }
    const std::string wanted = word.toStdString();
    const auto found = std::find_if(song.grooves.begin(), song.grooves.end(), [&](const auto& g) {
      return g->id == wanted || qs(g->name).compare(word, Qt::CaseInsensitive) == 0;
    });
    if (found == song.grooves.end()) {
      read();
      return Q_EMIT refused(tr("The song has no groove \"%1\"").arg(word));
    }
    grooves.insert(grooves.end(), static_cast<std::size_t>(times), (*found)->id);
  }
  if (grooves.empty()) {
    read();
    return Q_EMIT refused(tr("A section plays a groove at least"));
  }
  arranging_.change(tr("Plays %1").arg(text), [&](Section& s) {
    s.groove = grooves.front();
    s.grooves = grooves.size() == 1 ? std::vector<std::string>{} : grooves;
  });
}

void SectionCard::setMute(const QString& text) {
  std::vector<std::string> words;
  for (const QString& part : text.split(QLatin1Char(','), Qt::SkipEmptyParts)) {
    std::string word = part.trimmed().toLower().toStdString();
    const Kit& kit = *arranging_.song().kit;
    if (!fromText<Limb>(word) && !kit.find(word)) {
      std::replace(word.begin(), word.end(), ' ', '-');
      const auto named = std::find_if(kit.pieces.begin(), kit.pieces.end(), [&](const Piece& p) {
        return qs(p.name).compare(part.trimmed(), Qt::CaseInsensitive) == 0;
      });
      if (named != kit.pieces.end()) word = named->id;
    }
    if (!fromText<Limb>(word) && !kit.find(word)) {
      read();
      return Q_EMIT refused(tr("\"%1\" is neither a piece nor a limb").arg(part.trimmed()));
    }
    words.push_back(word);
  }
  arranging_.change(words.empty() ? tr("All play") : tr("Without %1").arg(text),
                    [&](Section& s) { s.mute = words; });
}

}  // namespace uneven
