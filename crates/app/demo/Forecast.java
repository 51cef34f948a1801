import java.util.ArrayList;
import java.util.List;

/** Skerry Sound: wind and sea for the next watches, and whether the boats go out. */
public final class Forecast {

    enum Sea { SMOOTH, SLIGHT, MODERATE, ROUGH }

    record Hour(int hour, double wind, double wave) {

        Sea sea() {
            if (wave < 0.5) return Sea.SMOOTH;
            if (wave < 1.25) return Sea.SLIGHT;
            if (wave < 2.5) return Sea.MODERATE;
            return Sea.ROUGH;
        }

        boolean boatsGoOut() {
            return wind < 17.0 && sea() != Sea.ROUGH;
        }
    }

    private final List<Hour> hours = new ArrayList<>();

    Forecast add(int hour, double wind, double wave) {
        hours.add(new Hour(hour, wind, wave));
        return this;
    }

    /** The longest stretch of hours in which the boats go out, as first and last hour. */
    int[] window() {
        int best = 0;
        int from = -1;
        int length = 0;
        for (int i = 0; i < hours.size(); i++) {
            length = hours.get(i).boatsGoOut() ? length + 1 : 0;
            if (length > best) {
                best = length;
                from = i - length + 1;
            }
        }
        if (from < 0) {
            return new int[0];
        }
        return new int[] {hours.get(from).hour(), hours.get(from + best - 1).hour()};
    }

    String page() {
        var out = new StringBuilder();
        for (Hour hour : hours) {
            String sea = hour.sea().name().toLowerCase();
            out.append(String.format("%02d  %4.1f m/s  %3.1f m  %-8s %s%n",
                hour.hour(), hour.wind(), hour.wave(), sea,
                hour.boatsGoOut() ? "" : "boats stay in"));
        }
        return out.toString();
    }

    public static void main(String[] args) {
        var forecast = new Forecast()
            .add(6, 8.2, 0.4)
            .add(7, 9.0, 0.6)
            .add(8, 12.5, 1.1)
            // .add(9, 14.0, 1.6)
            .add(10, 17.8, 2.2)
            .add(11, 15.1, 2.7)
            .add(12, 13.3, 1.9);
        System.out.print(forecast.page());
        int[] window = forecast.window();
        String notice = "the boats go out "
            + "from " + window[0]
            + " to " + window[1];
        System.out.println(notice);
    }
}
