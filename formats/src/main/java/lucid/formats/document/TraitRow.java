package lucid.formats.document;

import java.util.Map;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Trait;

/** Traits of one host, told by a table and not by the host itself. */
public record TraitRow(HostName host, Map<String, Trait> traits) {}
