#pragma once
#include <cmath>
#include <vector>

namespace dusk {

/// One sigma of an answer: from the same answer with one of `groups` parts of what it rests on left out, each
/// in turn (`answer(i)`), so that what is wrong in one part alone counts, too. Tukey 1958, "Bias and
/// Confidence in Not-quite Large Samples".
template <typename Answer>
double jackknifeSigma(int groups, const Answer& answer) {
  std::vector<double> answers;
  double mean = 0, squares = 0;
  for (int i = 0; i < groups; ++i) answers.push_back(answer(i)), mean += answers.back() / groups;
  for (const double each : answers) squares += (each - mean) * (each - mean);
  return std::sqrt(squares * (groups - 1) / groups);
}

}  // namespace dusk
