/* The same year as core/src/year (sky once, bank twice) as a plain C program, for `npm run bench` alone: how near the
   program comes to what the machine can do. Reads the plan as doubles from a file; prints ms a year and the totals. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#define HOURS 8760
#define SLOTS 288
static const int MONTH_DAYS[12] = {31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31};
static double *at;
static double next(void) { return *at++; }
static double *take(int n) { double *p = at; at += n; return p; }

typedef struct { double tilt, azimuth, heat, ohm, vmp, eff, group, member; double *table; } Array;
static double read_table(const double *w, double g, double t) {
  if (g <= 0) return 0;
  int i; double s;
  if (g >= 1200) { i = 13; s = 1; }
  else if (g >= 100) { int k = (int)(g / 100); i = 2 + k; s = g / 100 - k; }
  else if (g >= 50) { i = 2; s = (g - 50) / 50; }
  else if (g >= 25) { i = 1; s = (g - 25) / 25; }
  else { i = 0; s = g / 25; }
  double warm = (t + 30) / 10;
  if (warm < 0) warm = 0; else if (warm > 12) warm = 12;
  int k = (int)warm; if (k > 11) k = 11;
  double part = warm - k; const double *p = w + i * 13 + k;
  double lo = p[0] + part * (p[1] - p[0]), hi = p[13] + part * (p[14] - p[13]);
  return lo + s * (hi - lo);
}

int main(int argc, char **argv) {
  if (argc < 3) return 2;
  FILE *f = fopen(argv[1], "rb"); if (!f) return 2;
  fseek(f, 0, SEEK_END); long n = ftell(f); rewind(f);
  double *all = malloc(n); if (fread(all, 1, n, f) != (size_t)n) return 2; fclose(f);
  int years = atoi(argv[2]);
  at = all;
  double *ghi = take(HOURS), *dhi = take(HOURS), *temp = take(HOURS), *up = take(HOURS), *north = take(HOURS),
         *east = take(HOURS), *normal = take(365), *seen = take(HOURS), *engine = take(HOURS), *driving = take(HOURS), *factor = take(365),
         *most = take(365);
  double float_V = next(); int groups = (int)next(), arrays = (int)next(), members = (int)next();
  double *limit = take(groups), *member_group = take(members), *member_ohm = take(members);
  Array a[64];
  for (int i = 0; i < arrays; i++) {
    a[i].tilt = next(); a[i].azimuth = next(); a[i].heat = next(); a[i].ohm = next(); a[i].vmp = next();
    a[i].eff = next(); a[i].member = next(); a[i].table = take(195);
  }
  int ranks = (int)next();
  double *bank_W = take(ranks * SLOTS), *cbank = take(ranks * SLOTS), *cac = take(ranks * SLOTS);
  double idle = next(), self = next(), cap = next(), eff = next(), absorb = next(), tail = next(), largest = next(), leakage = next(),
         depth = next(), cut = next(), restart = next(); int lithium = (int)next(), guarded = (int)next();
  int gen = (int)next(); double rated = next(), gstart = next(), gstop = next(), autostart = next();
  double *quiet = take(24); int chargers = (int)next(); double *cmost = take(chargers), *ceff = take(chargers);
  double *occupied = take(12);
  double *net = calloc((size_t)HOURS * members, 8), *avail = malloc(HOURS * 8), *excess = malloc(HOURS * 8),
         *plane = malloc(HOURS * 8);
  double T[13], discharged = 0, worst = 0; const double rad = acos(-1) / 180, low85 = cos(85 * rad);
  struct timespec t0, t1; clock_gettime(CLOCK_MONOTONIC, &t0);
  for (int year = 0; year < years; year++) {
    memset(net, 0, (size_t)HOURS * members * 8); memset(avail, 0, HOURS * 8); memset(excess, 0, HOURS * 8);
    for (int i = 0; i < arrays; i++) {
      double tilt = a[i].tilt * rad, az = a[i].azimuth * rad, nu = cos(tilt), nn = sin(tilt) * cos(az),
             ne = sin(tilt) * sin(az), sky = (1 + nu) / 2, ground = .2 * (1 - nu) / 2;
      for (int h = 0; h < HOURS; h++) {
        double g = ghi[h]; if (g <= 0) { plane[h] = 0; continue; }
        double cz = up[h], nb = normal[h / 24], lv = dhi[h] < g ? dhi[h] : g, beam = 0;
        if (cz >= low85) { beam = (g - lv) / cz; if (beam > nb) beam = nb; }
        double d = g - beam * cz, sum = ground * g;
        if (beam > 0 && seen[h] == 1) {
          double onto = cz * nu + north[h] * nn + east[h] * ne, c = onto > 0 ? onto : 0, an = beam / nb;
          sum += beam * c + d * (an * c / cz + (1 - an) * sky);
        } else sum += d * sky;
        plane[h] = sum;
      }
      double lossy = a[i].ohm / (a[i].vmp * a[i].vmp); double *out = net + (size_t)HOURS * (int)a[i].member;
      for (int h = 0; h < HOURS; h++) {
        double g = plane[h]; if (g <= 0) continue;
        double w = read_table(a[i].table, g, temp[h] + a[i].heat * g), x = w - w * w * lossy;
        if (x > 0) out[h] += x * a[i].eff;
      }
    }
    for (int q = 0; q < groups; q++)
      for (int h = 0; h < HOURS; h++) {
        double sum = 0;
        for (int m = 0; m < members; m++) if ((int)member_group[m] == q) sum += net[(size_t)HOURS * m + h];
        if (sum <= 0) continue;
        double share = sum > limit[q] ? limit[q] / sum : 1; if (share < 1) excess[h] += sum - limit[q];
        for (int m = 0; m < members; m++) if ((int)member_group[m] == q) {
          double out = net[(size_t)HOURS * m + h] * share, amps = out / float_V; avail[h] += out - amps * amps * member_ohm[m];
        }
      }
    double store = cap; int off = 0, running = 0;
    for (int pass = 0; pass < 2; pass++) {
      memset(T, 0, sizeof T); discharged = 0; worst = 0; double spell = 0; int hour = 0, day = 0;
      for (int month = 0; month < 12; month++) for (int dd = 0; dd < MONTH_DAYS[month]; dd++, day++) {
        double room = cap * factor[day], cut_at = cap - (1 - cut) * room, mx = most[day]; int barred = mx == 0;
        double rate = absorb * mx * eff / room, fall = 5 * log(mx / tail); int tapers = (lithium ? largest : mx) > tail;
        int may = gen && (occupied[month] == 1 || autostart == 1);
        for (int h = 0; h < 24; h++, hour++) {
          int slot = month * 24 + h; double soc = 1 - (cap - store) / room; if (soc < 0) soc = 0;
          if (off) { if (soc >= restart) off = 0; } else if (soc <= cut) off = 1;
          double en = engine[hour];
          if (gen) {
            if (running) { if (soc >= gstop) running = 0; }
            else if (soc <= gstart && may && quiet[h] == 0 && driving[hour] == 0) running = 1;
            if (running && (!may || quiet[h] == 1 || driving[hour] == 1)) running = 0;
          }
          double ac = running ? .8 * rated : 0, carried = 0, asked = self + (off ? 0 : idle), wanted = 0;
          for (int p = 0; p < ranks; p++) {
            int s = p * SLOTS + slot; double w = bank_W[s];
            if (running && cac[s] > 0) { double k = cac[s] < ac ? cac[s] : ac; ac -= k; carried += k; w -= cbank[s] * k / cac[s]; }
            wanted += w;
          }
          double lost = off ? wanted : 0; if (!off) asked += wanted;
          double accept = 0;
          if (!barred && (avail[hour] + en > 0 || running)) {
            if (!tapers) accept = mx * absorb;
            else if (lithium) { double am = tail + (largest - tail) * (soc <= .98 ? 1 : (1 - soc) / .02); accept = (am < mx ? am : mx) * absorb; }
            else {
              double t = soc >= .8 ? 0 : (.8 - soc) / rate;
              if (t >= 1) accept = mx * absorb;
              else {
                double x = soc > .8 ? soc : .8, end = x + log(1 + fall * rate * (1 - t) * exp(-fall * (x - .8))) / fall;
                accept = (end - soc) * room / eff;
              }
            }
            double full = (cap - store) / eff; if (accept > full) accept = full;
          }
          double sun = avail[hour], clip = asked + accept - sun; if (clip > 0) T[4] += excess[hour] < clip ? excess[hour] : clip;
          double need = asked, su = sun < need ? sun : need; need -= su;
          double eu = en < need ? en : need; need -= eu;
          double sl = sun - su, el = en - eu, si = sl < accept ? sl : accept, fr = accept - si, ei = el < fr ? el : fr; fr -= ei;
          double by = 0, output = carried;
          if (running) {
            double want = need + fr;
            for (int c = 0; c < chargers; c++) {
              double able = ceff[c] * ac, g = cmost[c] < able ? cmost[c] : able; if (g > want) g = want;
              want -= g; ac -= g / ceff[c]; output += g / ceff[c]; by += g;
            }
          }
          double gu = by < need ? by : need; need -= gu; double charged = si + ei + by - gu, drawn = need, un = lost;
          if (need > 0) {
            if (off) drawn = need < store ? need : store;
            else { double left = store > cut_at ? store - cut_at : 0; if (need > left) { drawn = left; un = need - drawn < wanted ? need - drawn : wanted; } }
          }
          double served = asked - need + drawn; store += eff * charged - drawn; if (store < 0) store = 0;
          double leak = store * leakage; store -= leak; discharged += drawn;
          T[0] += su + si; T[1] += served + carried; T[2] += un; T[3] += sl - si; T[8] += eu + ei; T[9] += (1 - eff) * charged + leak;
          if (running) { T[5] += carried + by; T[6] += 1; T[7] += (.081 * rated + .246 * output) / 1000; }
          if (barred && lithium && !guarded && (sl > 0 || el > 0 || running) && store < cap * (1 - 1e-9)) T[12] += 1;
          double end = 1 - (cap - store) / room; if (end < 0) end = 0; int sh = end < 1 - depth - 1e-9;
          if (sh) T[10] += 1; if (off) T[11] += 1;
          if (sh || off) { spell += 1; if (spell > worst) worst = spell; } else spell = 0;
        }
      }
    }
  }
  clock_gettime(CLOCK_MONOTONIC, &t1);
  printf("{\"ms\":%.6f,\"totals\":[", ((t1.tv_sec - t0.tv_sec) * 1e3 + (t1.tv_nsec - t0.tv_nsec) / 1e6) / years);
  for (int i = 0; i < 13; i++) printf("%s%.9g", i ? "," : "", T[i]);
  printf("],\"discharged\":%.9g,\"worst\":%.0f}\n", discharged, worst);
  return 0;
}
