/* A reduced lap kernel for comparison: flat road, one axle, friction circle, no gears.
 * Limit, backward and forward pass over n steps of 1 m; returns the lap time. */
#include <math.h>

double reduced_lap(int n, const double *curvature, double mass, double mu, double lift,
                   double drag, double power, double *limit, double *w)
{
    const double g = 9.80665;
    for (int k = 0; k < n; k++) {
        double c = fabs(curvature[k]);
        double room = mass * c - mu * lift;
        limit[k] = room > 1e-9 ? mu * mass * g / room : 40000.0;
        if (limit[k] > 40000.0) limit[k] = 40000.0;
    }
    w[n] = limit[n - 1];
    for (int lap = 0; lap < 2; lap++) {
        for (int k = n - 1; k >= 0; k--) {
            double grip = mu * (mass * g + lift * w[k + 1]);
            double lateral = mass * fabs(curvature[k]) * w[k + 1];
            double left = grip * grip - lateral * lateral;
            double brake = (left > 0 ? sqrt(left) : 0.0) + drag * w[k + 1];
            double next = w[k + 1] + 2.0 * brake / mass;
            w[k] = next < limit[k] ? next : limit[k];
        }
        w[n] = w[0];
    }
    double time = 0.0;
    for (int lap = 0; lap < 2; lap++) {
        time = 0.0;
        for (int k = 0; k < n; k++) {
            double v = sqrt(w[k]);
            double grip = mu * (mass * g + lift * w[k]);
            double lateral = mass * fabs(curvature[k]) * w[k];
            double left = grip * grip - lateral * lateral;
            double drive = power / (v + 1.0), most = left > 0 ? sqrt(left) : 0.0;
            if (drive > most) drive = most;
            double next = w[k] + 2.0 * (drive - drag * w[k]) / mass;
            if (next < w[k + 1]) w[k + 1] = next;
            time += 2.0 / (v + sqrt(w[k + 1]));
        }
        w[0] = w[n];
    }
    return time;
}
