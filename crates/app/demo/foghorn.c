/* Skerry Sound: the fog signal.
 *
 * Sounds the horn by the rule of the station: two blasts every ninety seconds while
 * the visibility is under a thousand metres, one every two minutes under two thousand.
 */

#include <stdbool.h>
#include <stdio.h>

#define NEAR_M 1000
#define FAR_M 2000

enum signal { SIGNAL_NONE, SIGNAL_ONE, SIGNAL_TWO };

struct blast {
    int start_s;
    int length_s;
    const char *note;
};

/* The blasts of one round. The third one was dropped when the horn was rebuilt. */
static const struct blast ROUND[] = {
    { 0,  4, "low"  },
    { 6,  4, "low"  },
    /* { 12, 2, "high" }, */
};

static enum signal signal_for(int visibility_m)
{
    if (visibility_m < NEAR_M)
        return SIGNAL_TWO;
    if (visibility_m < FAR_M)
        return SIGNAL_ONE;
    return SIGNAL_NONE;
}

static int period_s(enum signal signal)
{
    switch (signal) {
    case SIGNAL_TWO:
        return 90;
    case SIGNAL_ONE:
        return 120;
    case SIGNAL_NONE:
    default:
        return 0;
    }
}

static bool horn_sounds(enum signal signal, int second)
{
    int period = period_s(signal);
    if (period == 0)
        return false;
    int blasts = signal == SIGNAL_TWO ? 2 : 1;
    int at = second % period;
    for (int i = 0; i < blasts; i++) {
        const struct blast *blast = &ROUND[i];
        if (at >= blast->start_s && at < blast->start_s + blast->length_s)
            return true;
    }
    return false;
}

static void print_minute(int visibility_m, int minute)
{
    enum signal signal = signal_for(visibility_m);
    printf("minute %d: ", minute);
    for (int second = 0; second < 60; second += 2)
        putchar(horn_sounds(signal, minute * 60 + second) ? '#' : '.');
    putchar('\n');
}

int main(void)
{
    int visibility_m = 800;  /* from the watch room */
    int minutes = 3;

    printf("visibility %d m, period %d s\n",
           visibility_m,
           period_s(signal_for(visibility_m)));
    for (int minute = 0; minute < minutes; minute++)
        print_minute(visibility_m, minute);
    return 0;
}
