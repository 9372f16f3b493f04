"""What a print file says of itself: job, page and profile; who made it where that is wanted; nothing of the customer, and nothing
that photos said."""

import uuid
from dataclasses import dataclass
from html import escape  # what it escapes, XML knows by the same names or numbers

_PACKET = """<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:xmp="http://ns.adobe.com/xap/1.0/"
 xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/" xmp:CreatorTool="Sutaru" xmp:CreateDate="{made}"
 photoshop:ICCProfile="{profile}"><dc:title><rdf:Alt><rdf:li xml:lang="x-default">{title}</rdf:li></rdf:Alt></dc:title>{by}
</rdf:Description></rdf:RDF></x:xmpmeta>
<?xpacket end="r"?>"""

_BY = """<dc:creator><rdf:Seq><rdf:li>{0}</rdf:li></rdf:Seq></dc:creator>
<dc:rights><rdf:Alt><rdf:li xml:lang="x-default">© {0}</rdf:li></rdf:Alt></dc:rights>"""


@dataclass(frozen=True)
class About:
    """``title``: job and page; "" says nothing at all. ``profile``: the profile's own name. ``made``: ISO 8601. ``by``: who made
    it, "" where files do not say."""

    title: str = ""
    profile: str = ""
    made: str = ""
    by: str = ""

    def xmp(self) -> bytes:
        """The same as an XMP packet (ISO 16684-1)."""
        title, by = ("".join(c for c in text if c.isprintable()) for text in (self.title, self.by))
        maker = _BY.format(escape(by)) if by else ""
        values = {"title": escape(title), "profile": escape(self.profile), "made": escape(self.made), "by": maker}
        return _PACKET.format(**values).encode()

    def identity(self, *more: str) -> str:
        """An identifier that is the same whenever the same is written."""
        return str(uuid.uuid5(uuid.NAMESPACE_URL, "\n".join(("sutaru", self.title, self.made, *more))))


NOTHING = About()
