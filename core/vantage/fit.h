#pragma once
#include <ceres/ceres.h>

#include <Eigen/Dense>

#include "core/vantage/candidates.h"
#include "core/vantage/solve.h"

namespace dusk::vantage {

/// One candidate as a least-squares problem, and everything it owns.
class Fit {
 public:
  Fit(const Evidence& evidence, const Candidate& candidate);

  /// Half the sum of squared robust residuals; infinity where the problem cannot be evaluated.
  double cost();
  /// False when the fit ended without usable values.
  bool refine(int iterations, double tolerance = 1e-9);
  /// Widens the expected drawing noise to what the residuals show, when that is more (median absolute
  /// deviation; Huber 1981, "Robust Statistics"). Returns whether it changed.
  bool learnNoise();

  Camera camera() const;
  Vec2d footprintSize() const { return {size_[0], size_[1]}; }
  /// Residual per item, in pixels, without the robust loss.
  std::vector<EvidenceItem> items();
  double noise() const { return noise_; }

  /// How much farther the strokes' directions are off than the points of one stroke scatter about their own
  /// line: the ratio of the two variances (Fisher's F), strokes marked as outliers left out. About 1 for runs
  /// that are what they say; nothing with too few strokes to tell.
  std::optional<double> disagreement(const std::vector<EvidenceItem>& items);

  /// As CameraCovariance, from the
  /// robustly weighted Jacobian, not yet scaled by the residuals; what is held has none. Nothing when the
  /// evidence leaves some direction free.
  std::optional<Eigen::Matrix<double, 11, 11>> covariance();
  /// Sum of squared weighted residuals over the degrees of freedom left; 1 for drawing noise as assumed.
  double reducedChiSquare(int* freedom = nullptr);
  /// By how much the robust weights overstate `covariance` where residuals are ordinary noise: their mean
  /// over what is not an outlier, over the loss's efficiency (Huber 1981, section 7.6).
  double overstatement();

 private:
  struct Item {
    std::string what, id;
    std::vector<ceres::ResidualBlockId> blocks;
    int stroke = -1;
  };

  void addStrokes();
  void addPoints();
  void addBeliefs();
  void holdWhatIsNotAsked();
  std::vector<double*> freeBlocks();
  Item& item(const char* what, std::string id, int stroke = -1);
  template <typename Functor, int residuals, int... blocks, typename... Blocks>
  void drawn(Item& item, const Functor& functor, Blocks*... at);
  template <typename Functor, int size>
  void believed(const Functor& functor, double* block);

  const Evidence& evidence_;
  Camera start_;
  double noise_ = noisePx;
  ceres::CauchyLoss loss_{3.0};  // in units of the drawing noise
  std::array<double, 5> lens_{};
  std::array<double, 3> turn_{}, position_{};
  std::array<double, 2> size_{};
  std::vector<double> angles_;
  std::vector<Vec3d> references_;
  std::vector<Item> items_;
  std::vector<int> freeLens_, freePosition_;  ///< fields that move
  int freeParameters_ = 0;
  std::unique_ptr<ceres::Problem> problem_;
};

}  // namespace dusk::vantage
