"""Plugin of dnf 4: excludes what this host is told to withhold, as lucid-reporter has written it down.

By itself, `lucid_reporter.py LIST` reads packages as lines "name TAB epoch:version-release TAB architecture TAB source package" and prints those
that lie in a range of the list: so lucid-reporter checks whether dnf obeys.
"""
import os
import sys

import rpm

LIST = '/var/lib/lucid-reporter/withheld'


def parts(evr):
    """Epoch, version and release; what is not told of an epoch is 0, and a release that is not told is any."""
    epoch, _, rest = evr.rpartition(':')
    version, _, release = rest.partition('-')
    return epoch or '0', version, release or None


def compare(one, other):
    """-1, 0 or 1, in the order of rpm."""
    return rpm.labelCompare(parts(one), parts(other))


def ranges(path):
    """(name, architecture, whether by source, from, below) of each line; none where there is no list."""
    try:
        with open(path, encoding='ascii') as lines:
            return [tuple(line.rstrip('\n').split('\t')) for line in lines if line.count('\t') == 4]
    except FileNotFoundError:
        return []


def judged(evr, source_package, by_source):
    """The version by which a package is judged: its own, or that of its source package with the package's epoch."""
    if by_source != 'true' or not source_package:
        return evr
    version_release = source_package.rsplit('.', 2)[0].rsplit('-', 2)[1:]
    return evr.split(':')[0] + ':' + '-'.join(version_release)


def is_withheld(one, evr, arch, source_package):
    """True if a package of the name of a range is in that range."""
    _, of_arch, by_source, first, below = one
    if of_arch not in ('-', arch) and 'noarch' not in (of_arch, arch):
        return False
    version = judged(evr, source_package, by_source)
    return compare(version, first) >= 0 and (below == '-' or compare(version, below) < 0)


def main():
    wanted = {}
    for one in ranges(sys.argv[1]):
        wanted.setdefault(one[0], []).append(one)
    for line in sys.stdin:
        name, evr, arch, source_package = (line.rstrip('\n').split('\t') + [''] * 4)[:4]
        if any(is_withheld(one, evr, arch, source_package) for one in wanted.get(name, [])):
            print(line, end='')


try:
    import dnf
except ImportError:
    dnf = None

if dnf and __name__ != '__main__':

    class LucidReporter(dnf.Plugin):
        name = 'lucid_reporter'

        def sack(self):
            """Called once dnf knows all packages. --disableexcludes=all goes over this as over any exclude."""
            conf = self.base.conf
            if {'all', '*', 'main'} & set(conf.disable_excludes):
                return
            for one in ranges(os.path.join(conf.installroot, LIST.lstrip('/'))):
                query = self.base.sack.query().available().filter(name=one[0])
                found = [
                    package
                    for package in query
                    if is_withheld(
                        one, f'{package.e}:{package.v}-{package.r}', package.a, package.sourcerpm or ''
                    )
                ]
                if found:
                    self.base.sack.add_excludes(self.base.sack.query().filterm(pkg=found))


if __name__ == '__main__':
    main()
