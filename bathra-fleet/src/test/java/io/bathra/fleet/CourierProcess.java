package io.bathra.fleet;

import io.bathra.Store;
import io.bathra.examples.shards.Courier;
import io.bathra.examples.shards.Shards;
import io.bathra.examples.shards.Yards;
import java.util.List;
import java.util.stream.Stream;

/** A program of its own that brings boxes from shard to shard until somebody ends it. */
final class CourierProcess {
    static final String AT_WORK = "at work";

    private CourierProcess() {}

    /**
     * @param args the URLs of the directory and of the shards
     */
    public static void main(String[] args) {
        Shards shards = shards(List.of(args), 2);
        Courier courier = new Courier(shards);
        courier.deliver();
        System.out.println(AT_WORK);
        while (true) {
            courier.deliver();
            Fleet.sleep(5);
        }
    }

    static Shards shards(List<String> urls, int connections) {
        List<Store> stores = urls.stream()
                .skip(1)
                .map(url -> Store.open(Yards.SHARD, Fleet.pool(url, connections)))
                .toList();
        return new Shards(Store.open(Yards.DIRECTORY, Fleet.pool(urls.get(0), 2)), stores);
    }

    static List<String> urls(String directory, List<String> shards) {
        return Stream.concat(Stream.of(directory), shards.stream()).toList();
    }
}
