"""Our own words of messages, by what they are about, how they travel, and the language."""

from collections.abc import Mapping

from lauschen.core.messages.message import Channel, Kind
from lauschen.core.messages.ours_hosts import OURS_HOSTS
from lauschen.core.messages.template import Template, TemplateKey

OURS: Mapping[TemplateKey, Template] = {
    (Kind.PASS, Channel.MAIL, "en"): Template(
        "Your way online at {site}",
        """\
Hello {name},

with this you are online at {site}.

{words}

Code: {code}
Wi-Fi: {wifi}
Good: {limits}

Join the Wi-Fi; a page opens by itself, and asks for the code. If none opens, go to {page}""",
    ),
    (Kind.PASS, Channel.MAIL, "de"): Template(
        "Ihr Weg ins Netz: {site}",
        """\
Guten Tag {name},

damit sind Sie hier online: {site}.

{words}

Code: {code}
WLAN: {wifi}
Gilt: {limits}

Verbinden Sie sich mit dem WLAN; eine Seite öffnet sich von selbst und fragt nach dem Code. Wenn \
keine kommt, öffnen Sie {page}""",
    ),
    (Kind.ACCOUNT, Channel.MAIL, "en"): Template(
        "Your account at {site}",
        """\
Hello {name},

with this account you are online at {site}.

{words}

Name: {login}
Password: {password}
Wi-Fi: {wifi}
Good: {limits}

Join the Wi-Fi; a page opens by itself, and asks for both. If none opens, go to {page}
On that page you may change the password.""",
    ),
    (Kind.ACCOUNT, Channel.MAIL, "de"): Template(
        "Ihr Konto: {site}",
        """\
Guten Tag {name},

mit diesem Konto sind Sie hier online: {site}.

{words}

Name: {login}
Passwort: {password}
WLAN: {wifi}
Gilt: {limits}

Verbinden Sie sich mit dem WLAN; eine Seite öffnet sich von selbst und fragt nach beidem. Wenn keine \
kommt, öffnen Sie {page}
Dort können Sie das Passwort auch ändern.""",
    ),
    (Kind.PASSPHRASE, Channel.MAIL, "en"): Template(
        "Your Wi-Fi at {site}",
        """\
Hello {name},

with this passphrase your devices join the Wi-Fi of {site}. It is yours alone: whoever asks you for it gets one of \
their own at the desk.

{words}

Wi-Fi: {wifi}
Passphrase: {passphrase}
Good: {limits}

Scan the code with each device, or choose the Wi-Fi there and type the passphrase.

Your devices, and a new passphrase when you need one: {link}""",
    ),
    (Kind.PASSPHRASE, Channel.MAIL, "de"): Template(
        "Ihr WLAN: {site}",
        """\
Guten Tag {name},

mit diesem Passwort verbinden sich Ihre Geräte mit unserem WLAN: {site}. Es gehört Ihnen allein: Wer Sie danach \
fragt, bekommt am Empfang ein eigenes.

{words}

WLAN: {wifi}
Passwort: {passphrase}
Gilt: {limits}

Scannen Sie den Code mit jedem Gerät, oder wählen Sie dort das WLAN und tippen Sie das Passwort ein.

Ihre Geräte, und ein neues Passwort, wenn Sie eines brauchen: {link}""",
    ),
    (Kind.PASSPHRASE, Channel.TEXT, "en"): Template(
        "",
        """\
{site}: Wi-Fi {wifi}
Passphrase: {passphrase}
{limits}. It is yours alone.
{words}""",
    ),
    (Kind.PASSPHRASE, Channel.TEXT, "de"): Template(
        "",
        """\
{site}: WLAN {wifi}
Passwort: {passphrase}
{limits}. Es gehört Ihnen allein.
{words}""",
    ),
    (Kind.PASS, Channel.TEXT, "en"): Template(
        "",
        """\
{site}: your code is {code}
Wi-Fi {wifi}. {limits}. {page}
{words}""",
    ),
    (Kind.PASS, Channel.TEXT, "de"): Template(
        "",
        """\
{site}: Ihr Code ist {code}
WLAN {wifi}. {limits}. {page}
{words}""",
    ),
    (Kind.ACCOUNT, Channel.TEXT, "en"): Template(
        "",
        """\
{site}: your account is {login}
Password: {password}
Wi-Fi {wifi}. {limits}. {page}
{words}""",
    ),
    (Kind.ACCOUNT, Channel.TEXT, "de"): Template(
        "",
        """\
{site}: Ihr Konto ist {login}
Passwort: {password}
WLAN {wifi}. {limits}. {page}
{words}""",
    ),
    (Kind.CONFIRM, Channel.MAIL, "en"): Template(
        "Please confirm this address for {site}",
        """\
Somebody wrote this address in at {site} to get online. If it was you, open this page and press its \
button:

{link}

Or type these digits on the page of the Wi-Fi: {code}

You are online for {minutes} minutes; with this you stay. If it was not you, nothing needs to be \
done.""",
    ),
    (Kind.CONFIRM, Channel.MAIL, "de"): Template(
        "Bitte bestätigen Sie diese Adresse: {site}",
        """\
Jemand hat sich hier mit dieser Adresse eingetragen, um online zu gehen: {site}. Wenn Sie es waren, \
öffnen Sie diese Seite und drücken Sie auf den Knopf:

{link}

Oder tippen Sie diese Ziffern auf der Seite des WLANs ein: {code}

Sie sind für {minutes} Minuten online; damit bleiben Sie es. Wenn Sie es nicht waren, ist nichts zu \
tun.""",
    ),
    (Kind.CONFIRM, Channel.TEXT, "en"): Template(
        "",
        """\
{site}: confirm your number with {code} or at {link}""",
    ),
    (Kind.CONFIRM, Channel.TEXT, "de"): Template(
        "",
        """\
{site}: Bestätigen Sie Ihre Nummer mit {code} oder auf {link}""",
    ),
    (Kind.REGISTERED, Channel.SYSLOG, "en"): Template(
        "", "{device} wrote themselves in on {network} of {site} as {name}"
    ),
    (Kind.REGISTERED, Channel.SYSLOG, "de"): Template(
        "", "{device} hat sich in {network} eingetragen, {site}, als {name}"
    ),
    (Kind.TEST, Channel.MAIL, "en"): Template(
        "A test from {site}",
        """\
This mail says that guests of {site} can be written to. Nothing needs to be done.""",
    ),
    (Kind.TEST, Channel.MAIL, "de"): Template(
        "Ein Test: {site}",
        """\
Diese Mail zeigt, dass Gäste angeschrieben werden können ({site}). Es ist nichts zu tun.""",
    ),
    (Kind.TEST, Channel.TEXT, "en"): Template(
        "",
        """\
A test from {site}. Nothing needs to be done.""",
    ),
    (Kind.TEST, Channel.TEXT, "de"): Template(
        "",
        """\
Ein Test: {site}. Es ist nichts zu tun.""",
    ),
    (Kind.PASSCODE, Channel.MAIL, "en"): Template(
        "The passcode of {network}",
        """\
From now on this is the passcode of {network} at {site}.

Code: {code}
Good until: {until}""",
    ),
    (Kind.PASSCODE, Channel.MAIL, "de"): Template(
        "Der Passcode von {network}",
        """\
Ab jetzt gilt dieser Passcode für {network}, {site}.

Code: {code}
Gilt bis: {until}""",
    ),
    (Kind.PASSCODE, Channel.TEXT, "en"): Template(
        "",
        """\
{network}: the passcode is {code}, until {until}""",
    ),
    (Kind.PASSCODE, Channel.TEXT, "de"): Template(
        "",
        """\
{network}: Der Passcode ist {code}, bis {until}""",
    ),
    **OURS_HOSTS,
}
"""A line whose every word is empty is left out, so that one template serves with and without."""
