/**
 * The program of a Linux computer: sources with a Makefile, a unit for its system, and settings
 * for what only the machine knows. It runs as a user of its own.
 */
import { fingerprint } from '../../design/fingerprint'
import { lampsOf, handSurfaces } from '../../design/find'
import { isNamed, isNearby } from '../../design/links/host'
import { isShell, isUdp, speaksRoutes, hasSpeed, hasModule } from '../../design/links/traits'
import { boardOf, pinLabel } from '../../design/pins'
import type { Design, Link } from '../../design/schema'
import { linesOf } from '../../design/values'
import { cppComment } from '../escape'
import { byteLines } from './byte-lines'
import { isBoxPart, wiredLoads } from './box'
import { portsOf, secretLinks } from './carried'
import { CAUTION, engineFiles, type ProgramFile } from './engine-files'
import { head } from './folder'
import { isInFront } from './front'
import { programLacks } from './lacks'
import { bareName, ownName } from './network'
import { networkHeader } from './network-header'
import { partTable } from './part-table'
import { pagesText } from './served-pages'
import { SECRET_ROOM, withSecretRoom, type SharedTable } from './tables'

/** Connections at once, and how many are told by datagrams: a computer has room. */
const ROOM = { clients: 72, streams: 64, senders: 32 }

/**
 * `secrets` by link; left out, they are to be filled in. `heardOn`: the port of its datagrams,
 * where another service of the machine has that of the design.
 */
export function serviceFolder(
  part: Design,
  name: string,
  secrets: Readonly<Record<string, string>> = {},
  heardOn: number | null = null,
): ProgramFile[] {
  const of = partTable(part)
  return [
    { path: 'INSTALL.txt', text: installText(part, name, ownName(of.program)) },
    { path: 'Makefile', text: makefile(part, name) },
    { path: `${name}.conf`, text: settingsText(part, name, secrets, heardOn) },
    { path: 'try.conf', text: tryText(part, secrets) },
    { path: `${name}.service`, text: unitText(part, name) },
    { path: 'src/sizes.h', text: networkHeader(part, of, ROOM) },
    { path: 'src/design.cpp', text: designText(part, of.table) },
    { path: 'src/pages.cpp', text: pagesText(part) },
    ...engineFiles('linux'),
  ]
}

function designText(part: Design, table: SharedTable): string {
  const { bytes, notes, secret } = table
  const noted = new Map(notes)
  secret.forEach((l, i) =>
    noted.set(bytes.length + i * SECRET_ROOM, `room for the secret of ${l.name}`),
  )
  return [
    ...head(part),
    '#include "design.h"',
    '',
    'namespace nolvi {',
    '',
    'const uint8_t DESIGN[] = {',
    ...byteLines(withSecretRoom(table), noted),
    '};',
    'const uint32_t DESIGN_SIZE = sizeof DESIGN;',
    '',
    '}  // namespace nolvi',
    '',
  ].join('\n')
}

/** Lines of a file whose comments begin with "#". */
const remark = (text: string) => `# ${cppComment(text)}`

function made(part: Design): string[] {
  return [
    remark(`${part.name}, made by Nolvi.`),
    remark(`Fingerprint ${fingerprint(part)}: the panels of this design carry the same one.`),
  ]
}

function makefile(part: Design, name: string): string {
  return `${made(part).join('\n')}
#
# make            compiles the program
# make try        runs it here: pins are files in ./pins, nothing is switched
# make install    as root: user, program, settings, unit; starts with the machine
CXX ?= g++
CXXFLAGS ?= -O2
FLAGS = -std=c++11 -Wall -Wextra -Isrc
OBJECTS = $(patsubst src/%.cpp,build/%.o,$(wildcard src/*.cpp))

build/${name}: $(OBJECTS)
\t$(CXX) $(CXXFLAGS) $(LDFLAGS) -o $@ $^

build/%.o: src/%.cpp $(wildcard src/*.h)
\t@mkdir -p build
\t$(CXX) $(FLAGS) $(CXXFLAGS) -c -o $@ $<

try: build/${name}
\t@mkdir -p pins
\tbuild/${name} try.conf

install: build/${name}
\tgetent group gpio >/dev/null || $(MAKE) lines
\tid -u nolvi >/dev/null 2>&1 || useradd --system --no-create-home --shell /usr/sbin/nologin nolvi
\tinstall -D -m 755 build/${name} /usr/local/bin/${name}
\ttest -e /etc/${name}.conf || install -m 640 -o root -g nolvi ${name}.conf /etc/${name}.conf
\tinstall -m 644 ${name}.service /etc/systemd/system/${name}.service
\tsystemctl daemon-reload
\tsystemctl enable ${name}
\tsystemctl restart ${name}

# Where no group has the lines of the pin header, one gets them.
lines:
\tgroupadd --system gpio
\techo 'SUBSYSTEM=="gpio", KERNEL=="gpiochip*", GROUP="gpio", MODE="0660"' > /etc/udev/rules.d/60-gpio.rules
\tudevadm control --reload
\tudevadm trigger

clean:
\trm -rf build

.PHONY: try install lines clean
`
}

function unitText(part: Design, name: string): string {
  const groups = portsOf(part).some(({ link }) => hasSpeed(link)) ? 'gpio dialout' : 'gpio'
  return `${made(part).join('\n')}
[Unit]
Description=${cppComment(part.name)}
After=network.target

[Service]
ExecStart=/usr/local/bin/${name} /etc/${name}.conf
User=nolvi
SupplementaryGroups=${groups}
StateDirectory=${name}
RuntimeDirectory=${name}
# Ports below 1024 without being root.
AmbientCapabilities=CAP_NET_BIND_SERVICE
CapabilityBoundingSet=CAP_NET_BIND_SERVICE
NoNewPrivileges=yes
ProtectSystem=strict
ProtectHome=yes
PrivateTmp=yes
Restart=always
RestartSec=1

[Install]
WantedBy=multi-user.target
`
}

/** What every machine is told in its own way. */
function settingsText(
  part: Design,
  name: string,
  secrets: Readonly<Record<string, string>>,
  heardOn: number | null,
): string {
  return [
    ...made(part),
    remark('What only this machine knows. A line is "key = value"; "#" begins a remark.'),
    '',
    remark('The lines of the pin header.'),
    'chip = /dev/gpiochip0',
    remark('A pin that is another line of the chip: line PIN = NUMBER'),
    ...(dimmed(part).length
      ? [remark('Pins that dim; the files of their width have to belong to the user nolvi.')]
      : []),
    ...dimmed(part).map(pin => `pwm ${pin} = /sys/class/pwm/pwmchip0/pwm0`),
    '',
    remark('What outlives a cut.'),
    `state = /var/lib/${name}/state`,
    '',
    remark('Who may ask: 0.0.0.0 = everybody in the network, 127.0.0.1 = this machine alone.'),
    'address = 0.0.0.0',
    remark('Ports where others are wanted than the design has: http = 8080, udp = 4700'),
    ...(heardOn === null ? [] : [`udp = ${heardOn}`]),
    ...(part.links.some(isNamed) && isBoxPart(part)
      ? [
          remark(
            'Who is asked where the other board is, if that is not left to the network and to',
          ),
          remark('/etc/resolv.conf: names = 192.168.1.1'),
        ]
      : []),
    ...portLines(part, `/run/${name}`),
    ...secretLinesOf(part, secrets),
    '',
  ].join('\n')
}

function portLines(part: Design, folder: string): string[] {
  return portsOf(part).flatMap(({ link }) => {
    if (isShell(link))
      return [
        '',
        remark(
          `Sessions of ${link.name}: whoever logs in as ${link.account} and is in the group nolvi.`,
        ),
        `console ${link.id} = ${folder}/${link.id}`,
      ]
    if (!hasSpeed(link)) return []
    const what = hasModule(link) ? 'The Bluetooth module of' : 'The wire of'
    return ['', remark(`${what} ${link.name}.`), `serial ${link.id} = /dev/serial0`]
  })
}

function secretLinesOf(part: Design, secrets: Readonly<Record<string, string>>): string[] {
  return secretLinks(part).flatMap(link => [
    '',
    remark(`It opens what ${link.name} guards: this file is read by root and nolvi alone.`),
    `${secrets[link.id] === undefined ? '# ' : ''}secret ${link.id} = ${secrets[link.id] ?? 'your own'}`,
  ])
}

/** To look at it without a board: pins are files. */
function tryText(part: Design, secrets: Readonly<Record<string, string>>): string {
  return [
    ...made(part),
    remark('For "make try": nothing is switched, pins are files in ./pins.'),
    'tree = pins',
    'state = pins/state',
    'address = 127.0.0.1',
    'http = 8080',
    ...portLines(part, 'pins').map(l => l.replace('/dev/serial0', '/dev/null')),
    ...secretLinesOf(part, secrets),
    '',
  ].join('\n')
}

/** Pins whose width is changed. */
function dimmed(part: Design): number[] {
  return wiredLoads(part).flatMap(({ output }) =>
    linesOf(output)
      .filter(l => l.use.as === 'pwm')
      .map(l => l.pin),
  )
}

function installText(part: Design, name: string, called: string): string {
  const links = portsOf(part).map(p => p.link)
  const secret = secretLinks(part)
  const board = boardOf(part)
  const pins = [
    ...wiredLoads(part).flatMap(l => linesOf(l.output).map(line => [line.pin, l.name] as const)),
    ...handSurfaces(part).flatMap(s => s.controls.map(c => [c.pin, s.name] as const)),
    ...(isInFront(part) ? [] : lampsOf(part).map(l => [l.pin, l.name] as const)),
  ]
  const steps = [
    'On the computer: install a compiler and make (on Debian: apt install g++ make).',
    'Copy this folder there, and in it: make',
    `Look at it before anything is wired: make try, then open ${opens(links)}. Pins are files in ./pins; nothing is switched.`,
    `Read ${name}.conf: which chip the pin header is, which port a wire is on.`,
    ...(secret.length
      ? [`Put the secret of ${secret.map(l => l.name).join(', ')} into ${name}.conf.`]
      : []),
    ...(called === ''
      ? []
      : [
          `Panels and boxes look for it as ${called}: call the computer so (hostnamectl set-hostname ${bareName(called)})${isNearby(called) ? ', and install what answers to such names (on Debian: apt install avahi-daemon)' : ''}.`,
        ]),
    'As root: make install. It makes a user "nolvi" for it, and starts it with the machine.',
    `See that it runs: systemctl status ${name}. Restart the machine once and look again.`,
    ...links.flatMap(l =>
      isShell(l)
        ? [
            `For ${l.name}: put ${l.account} into the group nolvi, and let "${l.command}" be: /usr/local/bin/${name} console /run/${name}/${l.id}`,
          ]
        : [],
    ),
  ]
  return `${part.name}, for ${board.name}. Made by Nolvi.
Fingerprint ${fingerprint(part)}: the panels of this design carry the same one.

${steps.map((s, i) => `${i + 1}. ${s}`).join('\n')}

Pins
${pins.map(([pin, what]) => `  ${pinLabel(part, pin)}: ${what}`).join('\n')}

It was compiled and held against the controller of the bench on a computer without a pin header:
there, pins are files. Lines of a real chip it has not switched yet.
${programLacks(part)
  .map(l => `Not done by it yet: ${l.words}.\n`)
  .join('')}${CAUTION}
`
}

function opens(links: readonly Link[]): string {
  if (links.some(speaksRoutes)) return 'http://127.0.0.1:8080'
  return links.some(isUdp) ? 'its port of datagrams' : 'its console'
}
