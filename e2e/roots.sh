#!/bin/sh
# Makes a host of real packages in a private root, with its own repository, without network and without touching the system.
#   roots.sh deb FOLDER    FOLDER/root with dpkg and apt, alpha upgraded to 1.1-1, beta and gamma still old
#   roots.sh rpm FOLDER    FOLDER/root with rpm and dnf, the same, and FOLDER/repo with its updateinfo
#   roots.sh updates FOLDER [--installed]    the advisories that dnf says the rpm root lacks, or has
#   roots.sh publish FOLDER NAME VERSION    another version of a package comes into the repository (rpm: with 1.t4 behind it)
#   roots.sh refresh FOLDER                  the package manager fetches its lists anew
#   roots.sh install FOLDER NAME...          as somebody at the host would
#   roots.sh offered FOLDER                  lines "name version" of what the package manager would upgrade
#   roots.sh installed FOLDER                lines "name version" of what is installed
set -eu
kind=$1 work=$2
shift 2
root=$work/root
export LC_ALL=C TZ=UTC HOME="$work/home"
mkdir -p "$work/home" "$work/repo" "$root/etc"

deb_package() { # NAME VERSION
  mkdir -p "$work/build/DEBIAN"
  printf 'Package: %s\nVersion: %s\nArchitecture: all\nMaintainer: nobody <nobody@example.invalid>\nDescription: sample\n' "$1" "$2" > "$work/build/DEBIAN/control"
  dpkg-deb --root-owner-group -Zgzip -z1 --build "$work/build" "$work/repo/$1_$(echo "$2" | tr : _).deb" > /dev/null
}

deb_index() {
  (cd "$work/repo" && apt-ftparchive packages . > Packages && apt-ftparchive -o APT::FTPArchive::Release::Label=Fathom release . > ../Release && mv ../Release Release)
}

in_apt() {
  export APT_CONFIG="$work/apt.conf" DEBIAN_FRONTEND=noninteractive
}

deb_root() {
  for version in 1.0-1 1.1-1; do deb_package alpha $version; deb_package beta $version; done
  deb_package gamma '1:2.0~rc1-1'
  deb_package gamma '1:2.0-1+u1'
  deb_index
  mkdir -p "$root/etc/apt/preferences.d" "$root/etc/apt/apt.conf.d" "$root/etc/apt/sources.list.d" "$root/etc/apt/trusted.gpg.d" "$root/var/lib/dpkg/info" "$root/var/lib/dpkg/updates" \
    "$root/var/lib/dpkg/triggers" "$root/var/lib/apt/lists/partial" "$root/var/cache/apt/archives/partial" "$root/var/log/apt"
  : > "$root/var/lib/dpkg/status"
  echo "deb [trusted=yes] file:$work/repo ./" > "$root/etc/apt/sources.list"
  printf 'NAME="Fathom OS"\nID=fathom\nVERSION_ID="31"\n' > "$root/etc/os-release"
  cat > "$work/apt.conf" <<CONF
Dir "$root/"; Dir::State::status "$root/var/lib/dpkg/status"; Dir::Log "$root/var/log/apt"; Dir::Log::Planner "/dev/null"; Dir::Bin::dpkg "/usr/bin/dpkg";
Acquire::Languages "none"; APT::Sandbox::User "root"; DPkg::Options {"--root=$root"; "--log=$root/var/log/dpkg.log"; "--force-not-root";};
CONF
  in_apt
  apt-get -qq update
  apt-get -qq -y install alpha=1.0-1 beta=1.0-1 gamma='1:2.0~rc1-1' > /dev/null
  apt-get -qq -y install alpha=1.1-1 > /dev/null
}

rpm_package() { # NAME VERSION RELEASE [EPOCH]
  rpmbuild -bb --quiet --define "_topdir $work/rpmbuild" --define "_rpmdir $work/repo" --define "_dbpath $work/builddb" --define '_rpmfilename %%{NAME}-%%{VERSION}-%%{RELEASE}.%%{ARCH}.rpm' \
    --define "n $1" --define "v $2" --define "r $3" ${4:+--define "e $4"} "$work/sample.spec"
}

rpm_update() { # ID TYPE SEVERITY NAME EPOCH VERSION RELEASE CVE
  cat <<XML
<update from="sample@example.invalid" status="final" type="$2" version="1"><id>$1</id><title>$4 $6</title><severity>$3</severity>
<issued date="2026-11-10 00:00:00"/><updated date="2026-11-11 00:00:00"/><description>Sample.</description>
<references><reference href="https://tarn.example/$8" id="$8" type="cve" title="$8"/></references>
<pkglist><collection short="sample"><name>Sample</name><package name="$4" epoch="$5" version="$6" release="$7" arch="noarch" src="$4-$6-$7.src.rpm"><filename>$4-$6-$7.noarch.rpm</filename></package></collection></pkglist></update>
XML
}

in_dnf() {
  dnf -q -y --refresh --installroot="$root" --releasever=1 -c "$root/etc/dnf/dnf.conf" --setopt=reposdir="$root/etc/yum.repos.d" --setopt=varsdir="$root/etc/dnf/vars" "$@"
}

rpm_index() {
  createrepo_c -q --no-database "$work/repo"
  [ ! -s "$work/updateinfo.xml" ] || modifyrepo_c --mdtype=updateinfo "$work/updateinfo.xml" "$work/repo/repodata" > /dev/null
}

rpm_root() {
  # Debian's rpm would keep its database in the home folder, also inside the root.
  echo '%_dbpath /var/lib/rpm' > "$HOME/.rpmmacros"
  cat > "$work/sample.spec" <<'SPEC'
Name: %{n}
Version: %{v}
Release: %{r}
%{?e:Epoch: %{e}}
Summary: sample
License: MIT
BuildArch: noarch
AutoReqProv: no
%description
sample
%files
SPEC
  for version in 1.0 1.1; do rpm_package alpha $version 1.t4; rpm_package beta $version 1.t4; done
  rpm_package gamma '2.0~rc1' 1.t4 1
  rpm_package gamma 2.0 1.t4 1
  {
    echo '<?xml version="1.0" encoding="UTF-8"?><updates>'
    rpm_update TRN-2026:0001 security Important alpha 0 1.1 1.t4 CVE-2026-9000101
    rpm_update TRN-2026:0002 security Moderate beta 0 1.1 1.t4 CVE-2026-9000102
    rpm_update TRN-2026:0003 bugfix None gamma 1 2.0 1.t4 CVE-2026-9000103
    echo '</updates>'
  } > "$work/updateinfo.xml"
  rpm_index
  mkdir -p "$root/etc/dnf/vars" "$root/etc/yum.repos.d" "$root/var/lib/rpm"
  printf '[main]\ngpgcheck=0\nplugins=0\n' > "$root/etc/dnf/dnf.conf"
  printf '[sample]\nname=sample\nbaseurl=file://%s/repo\nenabled=1\n' "$work" > "$root/etc/yum.repos.d/sample.repo"
  printf 'NAME="Tarn Linux"\nID=tarn\nVERSION_ID="4"\n' > "$root/etc/os-release"
  in_dnf install alpha-1.0-1.t4 beta-1.0-1.t4 'gamma-1:2.0~rc1-1.t4' > /dev/null
  in_dnf upgrade alpha > /dev/null
}

is_deb() { [ -s "$work/apt.conf" ]; }

publish() { # NAME VERSION
  if is_deb; then
    deb_package "$1" "$2"
    deb_index
  else
    rpm_package "$1" "$2" 1.t4
    rpm_index
  fi
}

refresh() {
  if is_deb; then in_apt && apt-get -qq update; else in_dnf makecache > /dev/null; fi
}

install() {
  if is_deb; then in_apt && apt-get -qq -y install "$@" > /dev/null; else in_dnf install "$@" > /dev/null; fi
}

offered() {
  if is_deb; then
    in_apt
    apt-get -s dist-upgrade | awk '$1 == "Inst" { print $2, substr($4, 2) }'
  else
    in_dnf repoquery --upgrades --latest-limit 1 --qf '%{name} %{version}-%{release}'
  fi | sort
}

installed() {
  if is_deb; then
    dpkg-query --admindir="$root/var/lib/dpkg" -W -f='${Package} ${Version}\n'
  else
    rpm --root="$root" --dbpath=/var/lib/rpm -qa --qf '%{NAME} %{VERSION}-%{RELEASE}\n'
  fi | sort
}

case $kind in
  deb) deb_root ;;
  rpm) rpm_root ;;
  updates) in_dnf updateinfo list ${1:-} | awk '/noarch/ { print $1 }' ;;
  publish) publish "$@" ;;
  refresh) refresh ;;
  install) install "$@" ;;
  offered) offered ;;
  installed) installed ;;
  *) echo "roots.sh: deb, rpm, updates, publish, refresh, install, offered or installed" >&2; exit 2 ;;
esac
