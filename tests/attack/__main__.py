"""The long attack: python -m tests.attack [MINUTES] [FIRST SEED]. Prints tries and failures; exit code 1 when anything failed."""

import sys
import time

from tests.attack import documents, kills, pairs, starts, windows


def main():
    minutes = float(sys.argv[1]) if len(sys.argv) > 1 else 5.0
    seed = int(sys.argv[2]) if len(sys.argv) > 2 else int(time.time()) % 1_000_000
    end, tries, failures = time.time() + 60 * minutes, {}, []
    print(f"Attacking for {minutes:g} minutes from seed {seed}", flush=True)
    while time.time() < end:
        slot = min(end, time.time() + min(60.0, 15 * minutes))
        tried, failed = documents.attack(range(seed, seed + 100_000), slot)
        tries["documents"] = tries.get("documents", 0) + tried
        failures += [("document", *each) for each in failed]
        for name, attack in (
            ("windows", lambda s: windows.attack(s, 400)),
            ("kills", kills.attack),
            ("pairs", pairs.attack),
            ("starts", starts.attack),
        ):
            if time.time() < end:
                words = attack(seed)
                tries[name] = tries.get(name, 0) + 1
                failures += [(name, seed, words)] if words else []
        seed += 100_000
        print(tries, len(failures), "failures", flush=True)
    for name, number, words in failures:
        print(f"--- {name}, seed {number}\n{words}")
    print(f"{sum(tries.values())} tries: {tries}; {len(failures)} failures")
    return 1 if failures else 0


if __name__ == "__main__":
    sys.exit(main())
