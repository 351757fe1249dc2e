#pragma once
#include <Eigen/Core>

namespace dusk {

/// Dense linear algebra of matrices whose size is known at run time, compiled here alone: the library's
/// decompositions are large templates that each size and each file would make anew.

/// x of a x = b for a symmetric a, by LDLT.
Eigen::VectorXd solveSymmetric(const Eigen::MatrixXd& a, const Eigen::VectorXd& b);

/// x for which |a x - b| is least, by QR with column pivots.
Eigen::VectorXd leastSquares(const Eigen::MatrixXd& a, const Eigen::VectorXd& b);

/// Of a symmetric matrix: values from the least on, and their vectors as columns.
struct SymmetricEigen {
  Eigen::VectorXd values;
  Eigen::MatrixXd vectors;
};
SymmetricEigen symmetricEigen(const Eigen::MatrixXd& a);

/// Of any square matrix.
Eigen::VectorXcd eigenvalues(const Eigen::MatrixXd& a);

/// a = u diag(s) v^T, with u and v whole.
struct Svd {
  Eigen::MatrixXd u, v;
};
Svd svd(const Eigen::MatrixXd& a);

/// a = q r, with r upper triangular.
struct Qr {
  Eigen::MatrixXd q, r;
};
Qr qr(const Eigen::MatrixXd& a);

}  // namespace dusk
