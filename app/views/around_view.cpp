#include "app/views/around_view.h"

#include <QtWidgets>

#include "app/jobs/aside.h"
#include "app/preview/screen.h"
#include "app/views/camera_overlay.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/product/model.h"
#include "core/trace/compile.h"
#include "core/vantage/camera.h"

namespace dusk {

struct AroundView::World {
  std::shared_ptr<const PlacedGeometry> geometry;
  std::vector<std::vector<PickPaint>> paints;  ///< [instance][part]
  std::vector<Box> boxes;                      ///< of the instances, in the world
};

namespace {

/// Box of a part where it is placed, or of all of them.
Box placedBox(const PlacedGeometry& geometry, unsigned instance, int only = -1) {
  const Model& model = geometry.instances()[instance].geometry->model();
  Box box;
  for (unsigned i = 0; i < model.parts.size(); ++i) {
    if (only >= 0 && int(i) != only) continue;
    const Similarity world = geometry.worldFromMesh(instance, i);
    for (const Vec3f& v : model.meshOf(model.parts[i]).positions) box.add(world.point(toDouble(v)));
  }
  return box;
}

}  // namespace

AroundView::Seen AroundView::seenOf(const Session& session) {
  const Shot& shot = session.shot();
  return {session.project().products, session.project().surfaces, shot.placements, shot.levels,
          session.assets()->modelChanges()};
}

AroundView::AroundView(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName("around");
  setAccessibleName(words("Around: free look at the products"));
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAttribute(Qt::WA_OpaquePaintEvent);
  flight_.setDuration(320);
  flight_.setEasingCurve(QEasingCurve::InOutCubic);
  connect(&session_, &Session::changed, this, [this](const Changes& what) {
    // A lamp that is led about changes nothing that is seen here.
    if (isVisible() && (what.trace || what.geometry || !world_) && !(builtOf_ == seenOf(session_))) rebuild();
  });
  connect(&session_, &Session::selectionChanged, this, [this] { recolour(); });
  connect(&session_, &Session::shotChanged, this, [this] { letGo(); });
  connect(&session_, &Session::documentChanged, this, [this] {
    letGo();
    flight_.stop();
    framed_ = false;
    before_.reset();
  });
}

AroundView::~AroundView() {
  if (running_) running_->cancel();
}

void AroundView::showEvent(QShowEvent*) { rebuild(); }

void AroundView::rebuild() {
  const int request = ++worldRequest_;
  builtOf_ = seenOf(session_);
  runAside([project = session_.project(), index = session_.shotIndex(), assets = session_.assets(),
            cache = session_.geometry()] {
    auto world = std::make_shared<World>();
    std::vector<PlacedGeometry::Instance> instances;
    const Shot& shot = project.shots[index];
    for (const Placement& placement : shot.placements) {
      const Product* product = byId(project.products, placement.productId);
      const auto model = product ? assets->loadedModel(*product) : nullptr;
      if (!model) continue;  // it comes when it is loaded
      instances.push_back(placedInstance(*product, shot, placement, model, *cache, PartsOf::both));
      auto& paints = world->paints.emplace_back();
      for (const Part& part : model->parts) {
        const Surface* given = surfaceOf(project, *product, part);
        const Surface s = given ? *given : surfaceFromFile(model->materialOf(part));
        paints.push_back({toFloat(s.baseColour), s.transmission > 0.5});
      }
    }
    world->geometry = std::make_shared<PlacedGeometry>(cache->device(), std::move(instances));
    for (unsigned i = 0; i < world->geometry->instances().size(); ++i)
      world->boxes.push_back(placedBox(*world->geometry, i));
    return std::shared_ptr<const World>(world);
  }).then(this, [this, request](const std::shared_ptr<const World>& world) {
    if (request != worldRequest_) return;
    world_ = world;
    if (!framed_ && !world->boxes.empty()) backToTheMiddle();
    this->request();
  });
}

Box AroundView::bounds() const {
  Box all;
  if (world_)
    for (const Box& b : world_->boxes)
      if (!b.empty()) all.add(b.low), all.add(b.high);
  return all;
}

void AroundView::backToTheMiddle() {
  const Box all = bounds();
  letGo();
  if (all.empty()) return;
  pivot_ = all.middle();
  const double radius = std::max(all.size().length() / 2, 1e-4), focal = 1.5 * std::min(width(), height());
  const double away = radius * focal / (0.42 * std::min(width(), height()));
  const Vec3d direction = Vec3d(0.55, -1, 0.45).normalized();
  const bool flies = std::exchange(framed_, true);
  before_.reset();
  look(lookAt(std::max(width(), 16), std::max(height(), 16), focal, pivot_ + direction * away, pivot_),
       flies);
}

void AroundView::showPart() {
  letGo();
  if (before_) {
    const Camera back = *before_;
    before_.reset();
    return look(back, true);
  }
  if (!world_) return;
  for (unsigned at = 0; at < world_->geometry->instances().size(); ++at) {
    const Model& model = world_->geometry->instances()[at].geometry->model();
    for (size_t i = 0; i < model.parts.size(); ++i) {
      if (model.parts[i].path != session_.selectedPart()) continue;
      const Box box = placedBox(*world_->geometry, at, int(i));
      if (box.empty()) return;
      before_ = camera_;
      pivot_ = box.middle();
      const double away =
          std::max(box.size().length() / 2, 1e-4) * camera_.focalPx / (0.3 * std::min(width(), height()));
      const Vec3d direction = (camera_.position - pivot_).normalized();
      return look(lookAt(camera_.width, camera_.height, camera_.focalPx, pivot_ + direction * away, pivot_),
                  true);
    }
  }
  session_.say(words("Choose a part first: click it, or find it in the cast."));
}

void AroundView::look(const Camera& to, bool fly) {
  flight_.stop();
  flight_.disconnect(this);
  if (!fly) {
    camera_ = to;
    return request();
  }
  const Camera from = camera_;
  flight_.setStartValue(0.0);
  flight_.setEndValue(1.0);
  connect(&flight_, &QVariantAnimation::valueChanged, this, [this, from, to](const QVariant& at) {
    const double t = at.toDouble();
    // Between looks in opposite directions there is none: the way it will look then.
    const Vec3d mixed = from.axes.z * (1 - t) + to.axes.z * t,
                way = mixed.length() > 1e-3 ? mixed : to.axes.z;
    const Vec3d eye = from.position * (1 - t) + to.position * t;
    camera_ = t >= 1 ? to : lookAt(to.width, to.height, to.focalPx, eye, eye + way);
    request();
  });
  flight_.start();
}

/// Coarse at once, fine when nothing newer has come.
void AroundView::request() {
  if (!world_ || width() < 16 || height() < 16 || camera_.focalPx <= 0) return update();
  if (running_) {
    again_ = true;
    return running_->cancel();
  }
  Camera camera = camera_;
  camera.width = width(), camera.height = height(), camera.cx = width() / 2.0, camera.cy = height() / 2.0;
  running_ = std::make_shared<Progress>();
  const bool moving = grip_ != idle || flight_.state() == QAbstractAnimation::Running;
  const int step = moving ? 2 : std::exchange(smooth_, false) ? 0 : 1;
  runAside([world = world_, camera, step, progress = running_] {
    auto result = std::make_shared<PickPass>();
    const auto colour = [&](unsigned i, unsigned p) { return world->paints[i][p]; };
    renderPickPass(*world->geometry, camera, colour, step, *result, *progress);
    return std::pair(result, progress->cancelled() ? -1 : step);
  }).then(this, [this](const std::pair<std::shared_ptr<PickPass>, int>& done) {
    running_.reset();
    if (done.second >= 0) {
      pick_ = std::move(*done.first);
      recolour();
      emit drawn();
    }
    // Smooth edges last, when nothing newer is asked for.
    smooth_ = done.second == 1 && !again_;
    if (std::exchange(again_, false) || smooth_) request();
  });
}

/// The picked picture with the selected part rimmed.
void AroundView::recolour() {
  if (pick_.pixels.empty() || !world_) return update();
  image_ = QImage(pick_.width, pick_.height, QImage::Format_RGB32);
  const auto& instances = world_->geometry->instances();
  const auto selected = [&](const PickPass::Seen& s) {
    return s.instance >= 0 && size_t(s.instance) < instances.size() &&
           instances[size_t(s.instance)].geometry->model().parts[size_t(s.part)].path ==
               session_.selectedPart();
  };
  PickPass::Seen last;
  bool lastSelected = false;
  for (int y = 0; y < pick_.height; ++y) {
    auto* line = reinterpret_cast<QRgb*>(image_.scanLine(y));
    for (int x = 0; x < pick_.width; ++x) {
      const PickPass::Seen& s = pick_.at(x, y);
      if (!(s == last)) last = s, lastSelected = !session_.selectedPart().empty() && selected(s);
      QRgb c = pick_.pixels[size_t(y) * pick_.width + x];
      if (lastSelected) {
        const bool rim = x < 2 || y < 2 || x + 2 >= pick_.width || y + 2 >= pick_.height ||
                         !(pick_.at(x - 2, y) == s && pick_.at(x + 2, y) == s && pick_.at(x, y - 2) == s &&
                           pick_.at(x, y + 2) == s);
        c = rim ? look::mark::ember.rgb()
                : qRgb((qRed(c) * 3 + look::mark::ember.red()) / 4,
                       (qGreen(c) * 3 + look::mark::ember.green()) / 4,
                       (qBlue(c) * 3 + look::mark::ember.blue()) / 4);
      }
      line[x] = c;
    }
  }
  update();
}

std::optional<Vec3d> AroundView::hitAt(const QPointF& at) const {
  if (!world_ || !framed_) return {};
  const Ray ray = rayOf(camera_, {at.x(), at.y()});
  const Hit hit = world_->geometry->closest(ray);
  if (!hit.found()) return {};
  return toDouble(ray.origin + ray.direction * hit.distance);
}

std::string AroundView::partAt(const QPointF& at) const {
  const QPoint p = at.toPoint();
  if (!world_ || p.x() < 0 || p.y() < 0 || p.x() >= pick_.width || p.y() >= pick_.height) return {};
  const PickPass::Seen& s = pick_.at(p.x(), p.y());
  const auto& instances = world_->geometry->instances();
  if (s.instance < 0 || size_t(s.instance) >= instances.size()) return {};
  return instances[size_t(s.instance)].geometry->model().parts[size_t(s.part)].path;
}

void AroundView::click(const QPointF& at, bool behind) {
  if (!world_ || !framed_) return;
  if (!behind) {
    session_.selectPart(partAt(at));
    if (const auto hit = hitAt(at)) emit pointPicked(*hit);
    return;
  }
  // The next other part along the ray after the selected one.
  const auto hits = hitsAlong(*world_->geometry, rayOf(camera_, {at.x(), at.y()}), 64);
  std::vector<std::string> parts;
  for (const Hit& h : hits) {
    const std::string& path = world_->geometry->instances()[h.instance].geometry->model().parts[h.part].path;
    if (std::find(parts.begin(), parts.end(), path) == parts.end()) parts.push_back(path);
  }
  if (parts.empty()) return;
  const auto now = std::find(parts.begin(), parts.end(), session_.selectedPart());
  session_.selectPart(now == parts.end() || now + 1 == parts.end() ? parts.front() : *(now + 1));
}

/// Products are within a walk of the origin: farther off, or at a place that is none, nobody goes.
void AroundView::moveTo(const Vec3d& eye) {
  if (!framed_ || !(eye.length() < 1e5)) return;
  camera_.position = eye;
  steer();
  request();
}

void AroundView::turn(double yaw, double pitch) {
  if (!framed_) return;
  const Vec3d up(0, 0, 1), side = camera_.axes.x;
  // Not over the poles: the world's up stays up.
  const double high = std::asin(std::clamp(-camera_.axes.z.z, -1.0, 1.0));
  pitch = std::clamp(high + pitch, -1.5, 1.5) - high;
  const auto moved = [&](const Vec3d& v) { return turned(turned(v, side, -pitch), up, yaw); };
  camera_.position = pivot_ + moved(camera_.position - pivot_);
  camera_.axes = {moved(camera_.axes.x), moved(camera_.axes.y), moved(camera_.axes.z)};
  steer();
  request();
}

bool AroundView::event(QEvent* e) {
  if (e->type() != QEvent::ToolTip) return QWidget::event(e);
  auto* help = static_cast<QHelpEvent*>(e);
  const std::string part = partAt(help->pos());
  if (part.empty())
    QToolTip::hideText();
  else
    QToolTip::showText(help->globalPos(), QString::fromStdString(part), this);
  return true;
}

void AroundView::resizeEvent(QResizeEvent*) {
  camera_.width = width(), camera_.height = height(), camera_.cx = width() / 2.0, camera_.cy = height() / 2.0;
  request();
}

void AroundView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), QColor("#2a2731"));
  const bool nothing = session_.shot().placements.empty();
  if (!nothing && !image_.isNull()) painter.drawImage(rect(), screen::shown(image_));
  const Lamp* lamp = byId(session_.shot().lamps, lamp_);
  if (lamp && !nothing)
    return paintHint(
        painter, *this,
        QString(words("You look through \"%1\": drag, arrows and wheel move it, and it shines at what is "
                      "in the middle; Escape lets it go"))
            .arg(QString::fromStdString(lamp->name)));
  paintHint(painter, *this,
            nothing
                ? words("Bring in a model at the Product station: it can be looked at from all sides here")
                : words("Drag turns about the point taken, hold V to drag along, wheel nears; click selects, "
                        "Shift+click the part "
                        "behind; Home: back to the middle"));
}

}  // namespace dusk
