// Stands in for the import worker and fails as asked by the model's file name: crash, loop, or rubbish as an
// answer.
#include <unistd.h>

#include <cstdio>
#include <cstdlib>
#include <cstring>

int main(int, char** argv) {
  if (std::strstr(argv[1], "crash")) std::abort();
  if (std::strstr(argv[1], "loop"))
    for (;;) ::sleep(1);
  FILE* out = std::fopen(argv[2], "w");
  std::fputs("duskmdl1 but then nothing that makes sense", out);
  std::fclose(out);
  return 0;
}
