#include "core/base/dense.h"

#include <Eigen/Dense>

namespace dusk {

using Eigen::MatrixXd;
using Eigen::VectorXd;

VectorXd solveSymmetric(const MatrixXd& a, const VectorXd& b) { return a.ldlt().solve(b); }

VectorXd leastSquares(const MatrixXd& a, const VectorXd& b) { return a.colPivHouseholderQr().solve(b); }

SymmetricEigen symmetricEigen(const MatrixXd& a) {
  const Eigen::SelfAdjointEigenSolver<MatrixXd> solver(a);
  return {solver.eigenvalues(), solver.eigenvectors()};
}

Eigen::VectorXcd eigenvalues(const MatrixXd& a) {
  return Eigen::EigenSolver<MatrixXd>(a, false).eigenvalues();
}

Svd svd(const MatrixXd& a) {
  const Eigen::JacobiSVD<MatrixXd> solver(a, Eigen::ComputeFullU | Eigen::ComputeFullV);
  return {solver.matrixU(), solver.matrixV()};
}

Qr qr(const MatrixXd& a) {
  const Eigen::HouseholderQR<MatrixXd> solver(a);
  return {solver.householderQ(), solver.matrixQR().triangularView<Eigen::Upper>()};
}

}  // namespace dusk
