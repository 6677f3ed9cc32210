package io.bathra.cli.image;

import java.io.DataInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.Set;

/**
 * What a compiled class says of itself and names, read from its file without loading it (The Java Virtual Machine
 * Specification, chapter 4).
 *
 * @param name its name, as in a class file: {@code com/example/Ship}
 * @param isRecord whether it is a record
 * @param texts all texts among its constants: names, descriptors, literals
 * @param classes the names of the classes that it names, itself among them
 */
record CompiledClass(String name, boolean isRecord, Set<String> texts, Set<String> classes) {
    private static final int MAGIC = 0xCAFEBABE;

    /**
     * Reads a class file as far as the name of the superclass.
     *
     * @throws IOException when it is none
     */
    static CompiledClass read(InputStream file) throws IOException {
        DataInputStream in = new DataInputStream(file);
        if (in.readInt() != MAGIC) {
            throw new IOException("no class file");
        }
        in.readInt(); // the version
        String[] texts = new String[in.readUnsignedShort()];
        int[] classes = new int[texts.length]; // where the name of a class stands; 0 for other constants
        for (int i = 1; i < texts.length; i++) {
            int tag = in.readUnsignedByte();
            switch (tag) {
                case 1 -> texts[i] = in.readUTF();
                case 7 -> classes[i] = in.readUnsignedShort();
                case 8, 16, 19, 20 -> in.readUnsignedShort();
                case 15 -> in.skipNBytes(3);
                case 3, 4, 9, 10, 11, 12, 17, 18 -> in.readInt();
                case 5, 6 -> {
                    in.readLong();
                    i++; // long numbers take two places
                }
                default -> throw new IOException("an unknown constant, " + tag);
            }
        }
        in.readUnsignedShort(); // access flags
        String name = texts[classes[in.readUnsignedShort()]];
        int parent = in.readUnsignedShort();
        boolean record = parent != 0 && "java/lang/Record".equals(texts[classes[parent]]);
        Set<String> named = new LinkedHashSet<>();
        Arrays.stream(classes).filter(at -> at != 0).forEach(at -> named.add(texts[at]));
        Set<String> all = new LinkedHashSet<>(Arrays.asList(texts));
        all.remove(null);
        return new CompiledClass(name, record, all, named);
    }
}
