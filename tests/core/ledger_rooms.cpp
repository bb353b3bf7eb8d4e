// SPDX-License-Identifier: GPL-3.0-or-later
// Pages of the ledger: checks, hands, walks, the arrangement, rehearsals and the ear.
#include <array>
#include <cmath>
#include <map>
#include <span>

#include "core/arrange/fills.h"
#include "core/arrange/form.h"
#include "core/arrange/frame.h"
#include "core/arrange/joints.h"
#include "core/arrange/templates.h"
#include "core/arrange/write_out.h"
#include "core/body/song_hands.h"
#include "core/check/check.h"
#include "core/match/along.h"
#include "core/match/compare.h"
#include "core/match/fit.h"
#include "core/match/follow.h"
#include "core/match/song_of.h"
#include "core/match/strokes.h"
#include "core/measure/syncopation.h"
#include "core/measure/tempo_card.h"
#include "core/playing/hardness.h"
#include "core/playing/ways.h"
#include "core/rehearse/alignment.h"
#include "core/rehearse/click.h"
#include "core/rehearse/plan.h"
#include "core/rehearse/play_in.h"
#include "core/rehearse/rehearsal.h"
#include "core/rehearse/simulated.h"
#include "core/rehearse/steps.h"
#include "core/song/names.h"
#include "core/take/take.h"
#include "core/vary/measures.h"
#include "core/vary/walks.h"
#include "tests/core/ledger.h"
#include "tests/support/made.h"
#include "tests/support/played_takes.h"
#include "tests/support/varied.h"

namespace uneven::ledger {
namespace {

std::string words(const std::vector<Limb>& limbs) {
  std::string out;
  for (const Limb limb : limbs) out += fmt::format("{} ", textOf(limb));
  return out;
}

// What a song is, in short; why it is not, at length.
void tell(Page& page, const Result<Song>& song) {
  page.line("{}", song ? hashOf(writeSong(*song)) : song.error().line());
}

Profile anyProfile(Random& random) {
  Profile out;
  if (pick(random, 0, 2) == 0) out.hand = anyOf(random, techniques()).limits;
  if (pick(random, 0, 2) == 0) out.leadHand = anyOf(random, techniques()).limits;
  out.bySlot = pick(random, 0, 1) == 0;
  out.leadTakesCymbal = pick(random, 0, 1) == 0;
  out.ruffInTurn = pick(random, 0, 1) == 0;
  if (pick(random, 0, 1) == 0) {
    Setup setup;
    setup.kit = static_cast<Side>(pick(random, 0, 1));
    setup.lead = static_cast<Side>(pick(random, 0, 1));
    setup.openHanded = pick(random, 0, 1) == 0;
    setup.doublePedal = pick(random, 0, 1) == 0;
    out.setup = setup;
  }
  return out;
}

void findings(Random& random, Page& page) {
  for (int i = 0; i < 24; ++i) {
    const Song song = anySong(random);
    const Profile profile = anyProfile(random);
    const KitMap& map = anyOf(random, builtInKitMaps());
    const Result<SharedTake> take = Take::ofSong(song);
    if (!take) continue;
    const Checked checked = check(**take, profile, map);
    for (const Finding& f : checked.findings) {
      page.line("{} {} {} {} {} {:.4f} {} {} {}", findingWord(f.kind), severityWord(f.severity),
                f.groove, f.bar, f.at.toString(), f.value, f.unit, f.times, f.text);
      for (const Mend& mend : f.mends) {
        page.line("  {} {} {:.4f} {}", mendWord(mend.kind), mend.text, mend.value,
                  hashOf(writeSong(withMend(song, mend))));
      }
    }
    page.line("{} {}", byCause(checked.findings).size(), checked.left.size());
    if (checked.findings.empty() || i % 4 > 0) continue;
    const Song left = withLeftAlone(song, anyOf(random, checked.findings), "meant");
    const Result<SharedTake> again = Take::ofSong(left);
    if (again) page.line("left: {}", check(**again, profile, map).left.size());
  }
}

void tellHands(Page& page, const Song& song, const Profile& profile, double bpm) {
  const Result<HandReport> report = handReport(song, song.grooves.front()->id, profile, bpm);
  if (!report) return page.line("{}", report.error().line());
  page.line("{:.6f} {}", report->plan.cost, words(report->plan.hands));
  page.line("{} {}", report->part.thirdHand.size(), report->part.underOrnament.size());
  for (const auto& strains : {report->strains.hands, report->strains.feet}) {
    for (const Strain& s : strains) {
      page.line("{} {:.5f} {:.5f} {:.3f} {} {}", textOf(s.limb), s.strain, s.effort, s.gap.count(),
                reasonText(s.reason), s.run);
    }
  }
  page.line("{:.3f} {:.3f} {}", ceilingBpm(*report, report->ceiling.playable),
            comfortableBpm(*report, report->ceiling.comfortable),
            heldBackAt(*report).value_or(Beat(-1)).toString());
  const HardnessReport hard = hardness(*report, report->strains);
  for (const Hardness& h : hard.bars) {
    page.line("{:.5f} {:.5f} {:.5f} {:.5f} {:.5f}", h.speed, h.coordination, h.dynamics, h.openings,
              h.subdivisions);
  }
  for (const OtherWay& way : otherWays(*report, profile, 6)) {
    page.line("{} {:.5f} {:.5f} {} {}", way.word, way.cost, way.ceiling.playable, way.text,
              words(way.plan.hands));
  }
  for (const WayBand& band : bandsOf(*report, profile)) page.line("{} {:.3f}", band.word, band.bpm);
}

void hands(Random& random, Page& page) {
  for (int i = 0; i < 100; ++i) {
    const Song song = anySong(random);
    const Profile profile = anyProfile(random);
    const double bpm = anyOf<double>(random, {60, 92, 133, 200});
    const Result<SharedTake> take = Take::ofSong(song);
    if (!take) continue;
    const Body body(*song.kit, profile);
    page.line("{}", words(songHands(body, **take, bodyPart(**take))));
    tellHands(page, song, profile, bpm);
  }
}

// As many strokes in a row as runs have limits.
void runs(Random& random, Page& page) {
  const std::vector<std::vector<PieceId>> struck = {{piece::kSnare},
                                                    {piece::kTomHigh, piece::kSnare},
                                                    {piece::kHat},
                                                    {piece::kKick},
                                                    {piece::kKick, piece::kSnare}};
  for (int i = 0; i < 200; ++i) {
    const Profile profile = anyProfile(random);
    const Beat step = anyOf<Beat>(random, {Beat(1, 4), Beat(1, 8), Beat(1, 6)});
    const std::vector<PieceId>& pieces = anyOf(random, struck);
    const int count = pick(random, 2, 20);
    std::vector<Hit> hits;
    for (int k = 0; k < count; ++k) {
      hits.push_back(
          testing::hitAt(Beat(k) * step, pieces[static_cast<std::size_t>(k) % pieces.size()]));
    }
    tellHands(page, testing::songOf(hits, 2), profile, 5 * pick(random, 12, 44));
  }
}

// Of a body of its own, from one that bounces at any tempo to one that hardly moves.
Profile anyBody(Random& random) {
  Profile out = anyProfile(random);
  const auto limit = [&](double least, double most) {
    const double playable = testing::pickReal(random, least, most);
    return TimeLimit{Milliseconds(playable * anyOf<double>(random, {1, 1.2, 1.5})),
                     Milliseconds(playable)};
  };
  const auto run = [&](double longer) {
    const TimeLimit second = limit(30 * longer, 90 * longer);
    const TimeLimit third = limit(60 * longer, 140 * longer);
    return RunLimits{second, third, limit(80 * longer, 170 * longer)};
  };
  out.hand = run(1);
  out.foot = run(1.4);
  out.hatFoot = run(1.8);
  out.weakHand = anyOf<double>(random, {1, 1.1, 1.6});
  out.weakFoot = anyOf<double>(random, {1, 1.15, 1.6});
  out.pullOut = limit(60, 150);
  for (Milliseconds* way : {&out.neighbour, &out.across, &out.crossed})
    *way = Milliseconds(testing::pickReal(random, 0, 90));
  out.nearby = testing::pickReal(random, 0.3, 2);
  out.runGap = Milliseconds(testing::pickReal(random, 100, 600));
  out.oneHandUpTo = anyOf<double>(random, {0, 0.5, 1});
  return out;
}

// Toms, rims and cymbals in figures with holes, some of them ornamented, some set to a hand.
Song anyFigure(Random& random) {
  const std::vector<PieceId> pieces = {piece::kSnare, piece::kTomHigh,  piece::kTomMid,
                                       piece::kRide,  piece::kTomFloor, piece::kHat,
                                       piece::kCrash, piece::kKick,     piece::kHatFoot};
  const Beat step = anyOf<Beat>(random, {Beat(1, 4), Beat(1, 4), Beat(1, 6), Beat(1, 8)});
  const int slots = static_cast<int>((Beat(pick(random, 2, 8)) / step).floorDiv(Beat(1)));
  const int rows = pick(random, 1, 3);
  std::vector<Hit> hits;
  for (int row = 0; row < rows; ++row) {
    const PieceId piece = anyOf(random, pieces);
    const int holes = pick(random, 0, 3), every = pick(random, 1, 3);
    for (int k = 0; k < slots; k += every) {
      if (pick(random, 0, 9) < holes) continue;
      Hit hit = testing::hitAt(Beat(k) * step, piece, 10 * pick(random, 2, 12));
      if (pick(random, 0, 9) == 0) hit.ornament = static_cast<Ornament>(pick(random, 1, 6));
      if (pick(random, 0, 12) == 0)
        hit.limb = anyOf<Limb>(random, {Limb::kLeftHand, Limb::kRightHand});
      if (pick(random, 0, 5) == 0) hit.role = anyOf<Role>(random, {Role::kGhost, Role::kAccent});
      if (hit.ornament != Ornament::kNone && pick(random, 0, 2) == 0)
        hit.ornamentGap = Milliseconds(pick(random, 20, 90));
      const bool taken = std::any_of(hits.begin(), hits.end(), [&](const Hit& h) {
        return h.at == hit.at && h.piece == hit.piece;
      });
      if (!taken) hits.push_back(hit);
    }
  }
  return testing::songOf(hits, 2);
}

void bodies(Random& random, Page& page) {
  for (int i = 0; i < 160; ++i) {
    const Song song = anyFigure(random);
    const Profile profile = anyBody(random);
    tellHands(page, song, profile, 5 * pick(random, 6, 60));
  }
}

// What hands and feet are asked for, with all that is known of each stroke.
void parts(Random& random, Page& page) {
  for (int i = 0; i < 60; ++i) {
    const Song song = i % 2 == 0 ? anySong(random) : anyFigure(random);
    const Result<SharedTake> take = Take::ofSong(song);
    if (!take) continue;
    const FoldedBlocks folded = foldedBlocks((*take)->score());
    for (const FoldedBlocks* by : {static_cast<const FoldedBlocks*>(nullptr), &folded}) {
      const BodyPart part = bodyPart(**take, std::nullopt, by, i % 4 < 2);
      page.line("{:.3f} {:.3f} {} {}", part.length.count(), part.quarters,
                fmt::join(part.thirdHand, " "), fmt::join(part.underOrnament, " "));
      for (const auto& strokes : {part.hands, part.feet}) {
        for (const BodyStroke& b : strokes) {
          page.line(
              "{:.3f} {:.3f} {:.3f} {:.3f} {:.3f} {:.4f} {:.4f} {} {} {} {} {} {} {} {} {}",
              b.grid.count(), b.fixed.count(), b.bounce.count(), b.lasts.count(),
              b.lastsFixed.count(), b.written, b.inBar, b.unit, b.stroke, b.hit, b.place,
              b.piece.value, textOf(b.limb), textOf(b.usual), b.velocity.value(),
              fmt::join(std::array{b.grace, b.across, b.ostinato, b.bounceFixed, b.closing}, " "));
        }
      }
    }
  }
}

void variants(const WalkKind& kind, Random& random, Page& page) {
  for (int i = 0; i < 36; ++i) {
    Song song = i % 2 == 0 ? testing::plainBeat(1 + i / 12) : anySong(random);
    const Groove& core = *song.grooves.front();
    Arguments arguments;
    for (const ToolParameter& p : kind.parameters) {
      const bool whole = p.kind == ParameterKind::kWhole;
      if (pick(random, 0, whole ? 9 : 3) == 0) arguments[p.name] = argument(random, p);
    }
    const Result<Walk> walk = makeWalk(kind.name, song, core.id, arguments, {});
    if (!walk) {
      page.line("{}", walk.error().line());
      continue;
    }
    page.line("{} {} {}", walk->count, walk->voice.value, fmt::join(walk->notes, "; "));
    if (walk->relaid) {
      page.line("{} {} {} {} {}", walk->relaid->quarters.toString(), walk->relaid->times.toString(),
                walk->relaid->meetsAfterBars, walk->relaid->rounds, walk->relaid->cycle);
    }
    const Measurer measurer(core, walk->voice);
    for (int k = 0; k < 6 && walk->count > 0; ++k) {
      const auto most = static_cast<int>(std::min<std::uint64_t>(walk->count, 100'000)) - 1;
      const Variant v =
          walk->at(static_cast<std::uint64_t>(k < 3 ? std::min(k, most) : pick(random, 0, most)));
      const Measures m = measurer.of(v.groove);
      page.line("{} {} {} {} {} {} {} {:.4f} {:.4f}", v.name, v.key, m.changed, m.added, m.removed,
                m.syncopation, m.kitSyncopation, m.density, m.distance);
      if (k < 3) page.groove(v.groove, *song.kit);
    }
  }
}

void joints(Random& random, Page& page) {
  for (int i = 0; i < 80; ++i) {
    Song song = anySong(random);
    for (Section& section : song.arrangement) section.repeat = pick(random, 1, 9);
    const Groove& groove = *song.grooves.front();
    const auto section = static_cast<std::size_t>(pick(random, 0, 2));
    const Milliseconds most(anyOf<double>(random, {2, 8, 20}));
    const Result<Beat> morph = smoothMorph(song, section, most);
    page.line("{}", morph ? morph->toString() : morph.error().line());
    if (const auto seam = seamAt(song, section)) page.line("{:.4f}", seam->jump.count());
    tell(page, withSmoothSeam(song, section, most));
    const int bars = pick(random, 1, 3);
    tell(page, withTurnInto(song, section, anyOf<std::string>(random, {"linear", "shuffled", "x"}),
                            bars));
    tell(page, withPickup(song, section, Beat(pick(random, 0, 8), 2)));
    tell(page, withHatsOpened(song, section, 0.1, 0.7));
    page.groove(linearSister(groove, *song.kit), *song.kit);
    page.groove(shuffledSister(groove), *song.kit);
    page.groove(between(groove, *song.grooves.back(), pick(random, 0, 4), 4), *song.kit);
    for (const SectionTemplate& t : sectionTemplates()) {
      TemplateAsked asked;
      asked.id = std::string(t.id);
      asked.limb = static_cast<Limb>(pick(random, 1, 4));
      if (pick(random, 0, 1) == 0) asked.groove = song.grooves.back()->id;
      const Result<Templated> made = withTemplate(song, section, asked);
      page.line("{} {}", t.id, made ? made->note : made.error().line());
      if (made) page.line("{} {}", made->sections, hashOf(writeSong(made->song)));
    }
  }
}

void fills(Random& random, Page& page) {
  for (int i = 0; i < 60; ++i) {
    const Song song = anySong(random);
    FillPlan plan;
    plan.every = pick(random, 0, 4);
    plan.another = pick(random, 0, 1) == 0;
    plan.after = static_cast<FillAfter>(pick(random, 0, 2));
    plan.asked.beats = Beat(pick(random, 1, 9), 2);
    plan.asked.seed = static_cast<std::uint64_t>(pick(random, 1, 1'000));
    plan.asked.bpm = anyOf<double>(random, {60, 98, 132, 190});
    const auto section = static_cast<std::size_t>(pick(random, 0, 2));
    for (const FillRecipe& recipe : fillRecipes()) {
      plan.asked.recipe = std::string(recipe.id);
      const Result<Groove> fill = makeFill(*song.grooves.front(), *song.kit, plan.asked);
      if (fill) {
        page.groove(*fill, *song.kit);
        const Tried tried = triedBy(song, *fill, {}, plan.asked.bpm);
        page.line("{:.3f} {:.3f}", tried.comfortable, tried.playable);
      } else {
        page.line("{}", fill.error().line());
      }
    }
    plan.asked.recipe = std::string(anyOf(random, fillRecipes()).id);
    tell(page, withFill(song, section, plan));
  }
}

void forms(Random& random, Page& page) {
  for (int i = 0; i < 100; ++i) {
    const Song song = anySong(random);
    std::string form = formText(song);
    page.line("{}", form);
    const auto from = static_cast<std::size_t>(pick(random, 0, static_cast<int>(form.size())));
    form = form.substr(0, from) +
           anyOf<std::string>(random, {" x2", "\n", ", ", "3 ", "one", "("}) + form.substr(from);
    tell(page, withForm(song, form, static_cast<TempoGoes>(pick(random, 0, 1))));
    tell(page,
         writtenOut(song, pick(random, 0, 1) == 0 ? std::optional<std::size_t>(1) : std::nullopt));
    const Result<Song> whole = writtenOut(song, std::nullopt);
    const int velocity = pick(random, 0, 6);
    if (whole) page.line("{}", foldText(foldedUp(*whole, {velocity, Milliseconds(3)})));
    SongFrame frame;
    frame.tempo = {{Beat(0), Bpm{98}, {}}};
    for (int k = 1; k < 4; ++k) {
      frame.tempo.push_back({Beat(8 * k + pick(random, -2, 2)), Bpm{100.0 + k}, {}});
      const Beat mark(16 * k + pick(random, -1, 1));
      frame.markers.emplace_back(mark, anyOf<std::string>(random, {"Verse", "Chorus", ""}));
      if (k > 1) continue;
      const Beat meter(20 * k + pick(random, 0, 2) / 2);
      frame.meters.emplace_back(meter, anyOf<Meter>(random, {{4, 4}, {3, 4}, {7, 8}}));
    }
    frame.length = Beat(pick(random, 20, 90));
    const Result<FramedSong> framed = withFrame(song, frame);
    page.line("{}", framed ? framed->note : framed.error().line());
    if (framed) page.line("{}", hashOf(writeSong(framed->song)));
  }
}

// Frames whose meters change on bar lines, within sections too.
void frames(Random& random, Page& page) {
  for (int i = 0; i < 100; ++i) {
    SongFrame frame;
    frame.tempo = {{Beat(0), Bpm{98}, {}}};
    Beat at;
    for (int k = pick(random, 1, 4); k > 0; --k) {
      const auto meter = anyOf<Meter>(random, {{4, 4}, {3, 4}, {7, 8}, {5, 4}});
      frame.meters.emplace_back(at, meter);
      const int mark = pick(random, 0, 2);
      if (mark > 0)
        frame.markers.emplace_back(at + Beat(mark - 1), anyOf<std::string>(random, {"A", "B"}));
      at += meter.barLength() * Beat(pick(random, 1, 5));
    }
    frame.length = at;
    const Result<FramedSong> framed = withFrame(anySong(random), frame);
    page.line("{}", framed ? framed->note : framed.error().line());
    if (framed) page.line("{}", hashOf(writeSong(framed->song)));
  }
}

void rehearsals(Random& random, Page& page) {
  const auto ms = [&](int most) { return Milliseconds(pick(random, -most, most)); };
  for (int i = 0; i < 40; ++i) {
    const Song song = anySong(random);
    const Groove& groove = *song.grooves.front();
    const Result<SharedTake> take = Take::ofGroove(song, groove.id);
    if (!take) continue;
    Skill skill;
    skill.bias = ms(15);
    skill.of[static_cast<Limb>(pick(random, 1, 4))] = ms(20);
    skill.spread = Milliseconds(pick(random, 0, 25));
    skill.velocitySpread = pick(random, 0, 20);
    skill.misses = skill.extras = skill.wrong = 0.05 * pick(random, 0, 2);
    skill.drag = 0.01 * pick(random, -3, 3);
    skill.seed = static_cast<std::uint64_t>(pick(random, 1, 1'000));
    const int times = pick(random, 1, 3);
    const SimulatedTake played = playedBy(**take, skill, times, Milliseconds(100));
    page.line("{} {} {} {}", played.onsets.size(), played.missed, played.added, played.wrong);
    AlignWanted wanted;
    wanted.searchOffset = pick(random, 0, 1) == 0;
    wanted.rounds = pick(random, 0, 1) * times;
    if (pick(random, 0, 2) == 0) wanted.free = {{Beat(1), Beat(2)}};
    const Alignment a = align(**take, played.onsets, wanted);
    for (const AlignedStroke& s : a.strokes) {
      page.line("{} {} {} {} {} {:.3f} {} {:.3f}", static_cast<int>(s.state), s.round, s.bar,
                s.at.toString(), s.piece.value, s.late.count(), s.velocityBy, s.openingBy);
    }
    page.line("{} {} {} {:.3f} {:.3f} {:.3f} {:.3f} {} {}", a.missing, a.extra, a.wrong,
              a.all.mean.count(), a.all.sd.count(), a.offset.count(), a.bpm, a.rounds,
              isClean(a, {Milliseconds(40), Milliseconds(20), 1}));
    page.line("{:.3f} {:.3f} {:.4f}", a.unison.value_or(Milliseconds(-1)).count(),
              a.widest ? a.widest->apart.count() : -1, a.uneven.value_or(-1));
    page.line("{:.3f} {:.3f}", a.ghosts.value_or(-1), a.ghostsWritten.value_or(-1));
    std::vector<PlayedStroke> strokes;
    for (const Onset& onset : played.onsets) {
      strokes.push_back({onset.piece, StrokeKind::kNormal,
                         Velocity(static_cast<int>(onset.velocity)), onset.opening,
                         Milliseconds(1'000 * onset.seconds)});
    }
    const Result<PlayedIn> in = playIn(song, groove.id, strokes);
    page.line("{}", in ? std::to_string(in->put.size()) : in.error().line());
    if (in) page.groove(in->groove, *song.kit);
    for (const StepsBy by : {StepsBy::kVoice, StepsBy::kLimb, StepsBy::kBeat, StepsBy::kSurface}) {
      for (const RehearsalStep& step : stepsOf(groove, *song.kit, by))
        page.line("{} {} {}", step.title, step.groove.hits.size(), step.added.size());
    }
    Ladder ladder{pick(random, 40, 90) * 1.0, pick(random, 90, 160) * 1.0, pick(random, 1, 9) * 1.0,
                  pick(random, 0, 1) == 0};
    for (const double rung : ladder.rungs()) page.line("{:.3f}", rung);
    RehearsalRules rules{ladder, static_cast<Climb>(pick(random, 0, 1)), 3};
    RehearsalPlace at;
    for (int k = 0; k < 60; ++k) {
      at = placeAfter(rules, at, pick(random, 0, 3) > 0);
      page.line("{} {} {} {} {}", at.step, at.rung, at.clean, at.unclean, at.reached);
    }
    for (const ClickPattern& pattern : clickPatterns()) {
      const double bpm = anyOf<double>(random, {50, 80, 120, 200});
      for (const ClickStroke& c : clicksOf(uneven::at(pattern, bpm), groove.meter, bpm, 2, 6))
        page.line("{} {:.3f} {}", c.at.toString(), c.db, c.one);
    }
    PlanAsked asked;
    asked.minutes = pick(random, 2, 20);
    asked.days = pick(random, 1, 12);
    asked.restEvery = pick(random, 0, 7);
    asked.from = *readDate("2027-02-25");
    if (pick(random, 0, 1) == 0) asked.goal = 120;
    if (pick(random, 0, 1) == 0) asked.groove = groove.id;
    const std::chrono::sys_days first(asked.from);
    for (int k = 1; k < pick(random, 1, 12); ++k) {
      PractisedDay day;
      day.groove = groove.id;
      day.date = first - std::chrono::days(2 * k);
      day.times = pick(random, 1, 30);
      day.clean = pick(random, 0, day.times);
      day.cleanBpm = day.clean > 0 ? 90.0 - k : 0;
      day.whole = pick(random, 0, 1) == 0;
      day.minutes = 3 * k;
      asked.history.push_back(day);
    }
    std::reverse(asked.history.begin(), asked.history.end());
    const LeitnerBox box = boxOf(asked.history);
    page.line("{} {}", box.box, box.due.time_since_epoch().count());
    page.line("{}", paceText(asked.history, 120));
    page.line("{}", loadWarning(minutesBefore(asked.history, first), 60).value_or(""));
    const Result<PracticePlan> plan = planOf(song, asked, {});
    page.line("{}", plan ? planText(*plan, song) : plan.error().line());
    if (plan) page.line("{}", hashOf(planCalendar(*plan, song)));
  }
}

void fitted(Page& page, const Fit& f, const std::vector<Onset>& onsets) {
  page.line("{:.3f} {:.3f} {:.4f} {} {} {:.3f} {:.2f} {} {}", f.bpm.value, f.bpmSe.value,
            f.start.count(), f.grid.meter.toString(), static_cast<int>(f.swing.written),
            f.swing.ratio, f.ratioSe, f.swingPairs, f.grid.steady);
  page.line("{:.2f} {} {} {}", f.confidence, f.used, static_cast<int>(f.against),
            fmt::join(f.doubts, "; "));
  for (const TempoFound& mark : f.marks) page.line("{} {:.2f}", mark.at.toString(), mark.bpm.value);
  for (const auto& [id, p] : f.pieces) {
    page.line("{} {:.2f} {:.2f} {} {:.1f} {:.3f} {}", id.value, p.lean.count(), p.se.count(), p.n,
              p.velocity, p.point, p.pairs);
  }
  for (const auto& [id, depth] : f.depths) page.line("{} {:.3f}", id.value, depth);
  for (const LevelFit& l : f.levels) {
    page.line("{} {} {:.2f} {:.1f} {}", l.piece.value, static_cast<int>(l.role), l.lean.count(),
              l.velocity, l.n);
  }
  for (const SlotFit& s : f.leaning) {
    page.line("{} {} {:.2f} {:.2f} {}", s.at.toString(), s.piece.value, s.lean.count(),
              s.se.count(), s.n);
  }
  page.line("{:.2f} {:.2f} {} {:.2f}", f.drift.clock.count(), f.drift.motor.count(), f.drift.told,
            f.drift.exponent.value_or(-1));
  for (const ReadingTold& r : f.grid.readings) {
    page.line("{:.2f} {} {:.2f} {:.3f}", r.bpm.value, r.meter.toString(), r.swing.ratio,
              r.likelihood);
  }
  for (const Placed& p : f.placed)
    page.line("{} {} {} {}", p.bar, p.at.toString(), p.used, p.timed);
  for (const SwingSpan& span : swingAlong(f, onsets).spans)
    page.line("{} {} {:.3f} {:.3f} {}", span.from, span.to, span.ratio, span.se, span.pairs);
  for (const BarTempo& bar : barTempos(f, onsets)) page.line("{} {:.2f}", bar.bar, bar.bpm.value);
}

// To fewer decimals than another machine's exp() and log() agree to.
void takes(Random& random, Page& page) {
  for (std::size_t i = 0; i < 2 * testing::playedKinds().size(); ++i) {
    const std::string kind = testing::playedKinds()[i / 2];
    const auto seed = static_cast<unsigned>(9'001 + i);
    const testing::PlayedTake take = testing::playedTake(kind, seed, pick(random, 6, 14));
    FitWanted wanted;
    const int asked = pick(random, 0, 9);
    if (asked == 1) wanted.where.bpm = Bpm{take.bpm};
    if (asked == 2) wanted.where.steady = true;
    if (asked == 3) wanted.where.meter = take.meter;
    if (asked == 4) wanted.against = static_cast<LeanAgainst>(pick(random, 0, 3));
    if (asked == 5 || asked == 6) {
      wanted.gridGiven = true;
      wanted.grid = anyOf<Grid>(random, {{8, 0}, {16, 0}, {8, 3}, {16, 3}});
    }
    if (asked == 7) wanted.where.swing = static_cast<SwingKind>(pick(random, 0, 3));
    if (asked == 8) wanted.where.start = Seconds(take.bars[1]);
    if (asked == 9) wanted.foundWithin = Seconds(StrokeFinder::kFoundWithin);
    const auto found = fit(take.onsets, wanted);
    page.line("{} {}", kind, found.has_value());
    if (!found) continue;
    fitted(page, *found, take.onsets);
    FollowWanted following;
    following.asFound = pick(random, 0, 1) == 0;
    following.by = static_cast<FollowBy>(pick(random, 0, 2));
    following.smoothBars = pick(random, 0, 2);
    const Followed followed = follow(*found, take.onsets, following);
    for (const TempoFound& mark : followed.marks)
      page.line("{} {:.1f}", mark.at.toString(), mark.bpm.value);
    SongWanted laid;
    laid.nudges = pick(random, 0, 1) == 0;
    laid.replay = pick(random, 0, 1) == 0;
    const Song song = uneven::songOf(*found, take.onsets, houseKit(), laid);
    for (const auto& groove : song.grooves) {
      for (const Hit& hit : groove->hits) {
        page.line("{} {} {} {} {:.0f}", groove->id, hit.at.toString(), hit.piece.value,
                  hit.velocity.value(), hit.nudge.count());
      }
    }
    page.line("{}", formText(song));
    const Result<SharedTake> mine = Take::ofGroove(song, song.grooves.front()->id);
    if (!mine) continue;
    const Result<Compared> compared = compare(**mine, *found, take.onsets, true);
    if (!compared) continue;
    page.line("{} {} {} {:.2f} {:.2f} {:.3f}", compared->both, compared->onlyMine,
              compared->onlyTheirs, compared->meanLate.count(), compared->meanLouder.value,
              compared->distance);
    for (const SlotCompared& s : compared->slots) {
      page.line("{} {} {} {} {:.2f} {:.2f} {}", s.at.toString(), s.piece.value, s.mine, s.theirs,
                s.late.count(), s.louder.value, s.beyond);
    }
  }
}

// Drums of noise and tone, by themselves and together, loud and soft.
void sounds(Random& random, Page& page) {
  for (int i = 0; i < 8; ++i) {
    const double rate = anyOf<double>(random, {44'100, 48'000, 22'050});
    std::vector<float> samples(static_cast<std::size_t>(6 * rate));
    double noise = 0;
    for (double at = 0.2; at < 5.5; at += 0.01 * pick(random, 6, 45)) {
      for (int drums = pick(random, 1, 2); drums > 0; --drums) {
        const int drum = pick(random, 0, 3);
        const double loud = anyOf<double>(random, {0.02, 0.1, 0.3, 0.5});
        const double pitch = anyOf<double>(random, {55, 110, 190, 0}), decay = 0.03 * (4 - drum);
        const auto from = static_cast<std::size_t>(at * rate);
        for (std::size_t k = from; k < samples.size() && k < from + 6 * decay * rate; ++k) {
          const double t = static_cast<double>(k - from) / rate;
          const double before = noise;
          noise = testing::pickReal(random, -1, 1);
          const double tone = std::sin(2 * 3.14159265358979 * pitch * t);
          const double hiss = drum == 3 ? noise - before : drum == 2 ? noise : 0.05 * noise;
          samples[k] += static_cast<float>(loud * std::exp(-t / decay) * (tone + hiss) / 2);
        }
      }
    }
    StrokeFinder finder(rate);
    std::span<const float> rest(samples);
    while (!rest.empty()) {
      const std::size_t now =
          std::min(rest.size(), static_cast<std::size_t>(pick(random, 1, 9'000)));
      finder.push(rest.first(now));
      rest = rest.subspan(now);
    }
    for (const Onset& o : finder.finish()) {
      page.line("{:.4f} {} {:.1f} {:.2f} {}", o.seconds, o.piece.value, o.velocity, o.opening,
                o.shared);
    }
  }
}

void weights(Random& random, Page& page) {
  for (int i = 0; i < 200; ++i) {
    const Groove groove = anyGroove(random);
    page.line("{} {} {:.4f}", syncopation(groove, {piece::kSnare, piece::kKick}),
              kitSyncopation(groove), density(groove));
    const double bpm = pick(random, 40, 240);
    for (const SameNotes& same : sameNotes(Bpm{bpm})) page.line("{}", same.text);
  }
}

}  // namespace

std::vector<Entry> roomEntries() {
  std::vector<Entry> out{
      {"findings", findings}, {"hands", hands},   {"joints", joints},         {"fills", fills},
      {"forms", forms},       {"frames", frames}, {"rehearsals", rehearsals}, {"takes", takes},
      {"weights", weights},   {"runs", runs},     {"sounds", sounds},         {"bodies", bodies},
      {"parts", parts}};
  for (const WalkKind& kind : walks()) {
    std::string name = "walk_" + kind.name;
    std::replace(name.begin(), name.end(), '-', '_');
    out.push_back({name, [&kind](Random& random, Page& page) { variants(kind, random, page); }});
  }
  return out;
}

}  // namespace uneven::ledger
