package io.bathra.bench.day;

/** A kind of work at the counter, and how often it comes up in a hundred. */
enum Kind {
    ARRIVAL("arrival, 3 movements, 2 pilots", 45) {
        @Override
        void on(Desk desk, int number) throws Exception {
            desk.arrive(number);
        }
    },
    PAYMENT("payment into a hot account", 43) {
        @Override
        void on(Desk desk, int number) throws Exception {
            desk.pay(number);
        }
    },
    STATUS("status of a call", 4) {
        @Override
        void on(Desk desk, int number) throws Exception {
            desk.status(number);
        }
    },
    DEPARTURE("departure of the ten oldest", 4) {
        @Override
        void on(Desk desk, int number) throws Exception {
            desk.depart(number);
        }
    },
    COUNT("count at a berth", 4) {
        @Override
        void on(Desk desk, int number) throws Exception {
            desk.count(number);
        }
    };

    static final int IN_ALL = 100;

    final String words;
    final int share;

    Kind(String words, int share) {
        this.words = words;
        this.share = share;
    }

    abstract void on(Desk desk, int number) throws Exception;

    /** The kinds of a hundred pieces of work, spread evenly: 37 is prime to a hundred. */
    static Kind[] hundred() {
        Kind[] kinds = new Kind[IN_ALL];
        int place = 0;
        for (Kind kind : values()) {
            for (int i = 0; i < kind.share; i++) {
                kinds[place] = kind;
                place = (place + 37) % IN_ALL;
            }
        }
        return kinds;
    }
}
