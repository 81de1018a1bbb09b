"""From what is stored to what the room Now and the log say."""

from lauschen.api.now.models import LogLine, RoleCount, Stream
from lauschen.api.shaping import Shaper
from lauschen.api.words.events import line, own_line
from lauschen.api.words.speaker import Speaker, way_name
from lauschen.api.words.trace import trace_words
from lauschen.core.config.network import GuestNetwork
from lauschen.core.words.mac import spell_mac
from lauschen.core.words.text import visible
from lauschen.store.log import DecisionRow, LogRow
from lauschen.store.overview import StreamCounts


def log_line_out(speaker: Speaker, row: LogRow) -> LogLine:
    return LogLine(
        id=row.id,
        at=row.at,
        text=line(speaker, row) if speaker.own is None else own_line(speaker, row),
        repeats=row.repeats if isinstance(row, DecisionRow) else 0,
        mac=spell_mac(row.mac) if row.mac else None,
        network=row.network,
        steps=trace_words(speaker, row) if isinstance(row, DecisionRow) else [],
    )


def stream_out(shaper: Shaper, network: GuestNetwork, counts: StreamCounts) -> Stream:
    roles = shaper.config.roles
    inside = [
        RoleCount(role=roles[role].name if role in roles else "a role that is gone", count=count)
        for role, count in sorted(counts.inside.items(), key=lambda item: -item[1])
    ]
    return Stream(
        id=network.id,
        name=network.name,
        ssid=visible(network.shown_as),
        ways_in=[way_name(way.way) for way in network.ways],
        has_page=not network.by_key,
        at_door=counts.at_door,
        page_opened=counts.page_opened,
        code_tried=counts.code_tried,
        inside=inside,
        held=counts.held,
        barred=counts.barred,
        left_last_hour=counts.left_last_hour,
    )
