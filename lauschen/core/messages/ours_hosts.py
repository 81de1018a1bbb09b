"""Our own words of messages between a guest and a host."""

from collections.abc import Mapping

from lauschen.core.messages.message import Channel, Kind
from lauschen.core.messages.template import Template, TemplateKey

_ASKED_EN = """\
{name} would like to get online at {site}, and names you as host.

Name: {name}
Mail: {mail}
Phone: {phone}
Company: {company}
Room: {room}
Visits: {visiting}
Reason: {reason}
{more}
Wi-Fi: {network}

Yes or no, and for how long, you say here:
{link}

They are waiting at the page. If you do not know them, say no: nobody is let in by your silence."""
_ASKED_DE = """\
{name} möchte hier online gehen ({site}) und nennt Sie als Gastgeber.

Name: {name}
Mail: {mail}
Telefon: {phone}
Firma: {company}
Zimmer: {room}
Besucht: {visiting}
Grund: {reason}
{more}
WLAN: {network}

Ja oder Nein, und für wie lange, sagen Sie hier:
{link}

Die Person wartet auf der Seite. Wenn Sie sie nicht kennen, sagen Sie Nein: Ihr Schweigen lässt niemanden ein."""

OURS_HOSTS: Mapping[TemplateKey, Template] = {
    (Kind.ASKED, Channel.MAIL, "en"): Template("May {name} get online?", _ASKED_EN),
    (Kind.ASKED, Channel.MAIL, "de"): Template("Darf {name} online gehen?", _ASKED_DE),
    (Kind.REMINDER, Channel.MAIL, "en"): Template(
        "{name} is still waiting for your answer", _ASKED_EN.replace("would like", "is still waiting")
    ),
    (Kind.REMINDER, Channel.MAIL, "de"): Template(
        "{name} wartet noch auf Ihre Antwort", _ASKED_DE.replace("möchte hier", "wartet noch und möchte")
    ),
    (Kind.OWN_PAGE, Channel.MAIL, "en"): Template(
        "Your guests at {site}",
        """\
Hello {host},

here you see who asks for you and whom you vouched for, and give time, pause, send again or withdraw:
{link}

Whoever has this link can do that too: do not pass it on. It is good for 30 days.""",
    ),
    (Kind.OWN_PAGE, Channel.MAIL, "de"): Template(
        "Ihre Gäste: {site}",
        """\
Guten Tag {host},

hier sehen Sie, wer nach Ihnen fragt und für wen Sie sich verbürgt haben, und geben Zeit, pausieren, \
senden noch einmal oder ziehen zurück:
{link}

Wer diesen Link hat, kann das auch: Geben Sie ihn nicht weiter. Er gilt 30 Tage.""",
    ),
    (Kind.INVITED, Channel.MAIL, "en"): Template(
        "You may sign in at {site}",
        """\
Hello,

you are {duty} of {site} now, and sign in as {name}. Choose a password here:
{link}

The link is good once, and for three days. Whoever has it can choose the password: do not pass it on.""",
    ),
    (Kind.INVITED, Channel.MAIL, "de"): Template(
        "Ihre Anmeldung: {site}",
        """\
Guten Tag,

Sie gehören jetzt {duty} ({site}) und melden sich als {name} an. Ein Passwort wählen Sie hier:
{link}

Der Link gilt einmal und drei Tage lang. Wer ihn hat, kann das Passwort wählen: Geben Sie ihn nicht weiter.""",
    ),
    (Kind.NOT_VOUCHED, Channel.MAIL, "en"): Template(
        "About getting online at {site}",
        """\
Your host could not say yes this time.

{word}

On the page of the Wi-Fi at {site} you find the other ways to get online, if there are any.""",
    ),
    (Kind.NOT_VOUCHED, Channel.MAIL, "de"): Template(
        "Zu Ihrem Weg ins Netz: {site}",
        """\
Ihr Gastgeber konnte diesmal nicht zusagen.

{word}

Auf der Seite des WLANs finden Sie die anderen Wege ins Netz, falls es welche gibt ({site}).""",
    ),
    (Kind.NOT_VOUCHED, Channel.TEXT, "en"): Template(
        "",
        """\
{site}: your host could not say yes this time.
{word}""",
    ),
    (Kind.NOT_VOUCHED, Channel.TEXT, "de"): Template(
        "",
        """\
{site}: Ihr Gastgeber konnte diesmal nicht zusagen.
{word}""",
    ),
    (Kind.HOST_ASKED, Channel.SYSLOG, "en"): Template(
        "", "{host} is asked to vouch for {name}, {device} on {network} of {site}"
    ),
    (Kind.HOST_ASKED, Channel.SYSLOG, "de"): Template(
        "", "{host} wird gebeten, für {name} zu bürgen, {device} in {network}, {site}"
    ),
    (Kind.HOST_SAID_YES, Channel.SYSLOG, "en"): Template(
        "", "{host} vouched for {name}, {device} on {network} of {site}"
    ),
    (Kind.HOST_SAID_YES, Channel.SYSLOG, "de"): Template(
        "", "{host} bürgt für {name}, {device} in {network}, {site}"
    ),
    (Kind.HOST_SAID_NO, Channel.SYSLOG, "en"): Template(
        "", "{host} did not vouch for {name}, {device} on {network} of {site}"
    ),
    (Kind.HOST_SAID_NO, Channel.SYSLOG, "de"): Template(
        "", "{host} bürgt nicht für {name}, {device} in {network}, {site}"
    ),
    (Kind.HOST_SILENT, Channel.SYSLOG, "en"): Template(
        "", "nobody answered for {name}, {device} on {network} of {site}, asked was {host}"
    ),
    (Kind.HOST_SILENT, Channel.SYSLOG, "de"): Template(
        "", "niemand antwortete für {name}, {device} in {network}, {site}, gefragt war {host}"
    ),
}
