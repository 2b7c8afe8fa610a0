"""A mail as bytes: text and HTML parts, the PDF attached."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from email.headerregistry import Address
from email.message import EmailMessage
from email.policy import SMTP
from email.utils import format_datetime


@dataclass(frozen=True)
class Letter:
    """What a mail says, and to whom."""

    message_id: str
    sender: str
    address: str
    name: str
    subject: str
    text: str
    at: datetime


def message_of(letter: Letter, html: str = "", pdf: bytes = b"", file: str = "") -> bytes:
    """The mail. html, pdf: an issue's rendering, where there is one; file: what the PDF is called."""
    found = EmailMessage(policy=SMTP)
    found["Subject"] = letter.subject
    found["From"] = Address("Lofty Abacus", addr_spec=letter.sender)
    found["To"] = Address(letter.name, addr_spec=letter.address)
    found["Date"] = format_datetime(letter.at)
    found["Message-ID"] = f"<{letter.message_id}>"
    # No machine is to answer: out-of-office notes stay away.
    found["Auto-Submitted"] = "auto-generated"
    found.set_content(letter.text)
    if html:
        found.add_alternative(html, subtype="html")
    if pdf:
        found.add_attachment(pdf, maintype="application", subtype="pdf", filename=file)
    return found.as_bytes()
