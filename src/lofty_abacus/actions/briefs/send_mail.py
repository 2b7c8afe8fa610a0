"""Send what waits in the outbox: each message once, again after growing waits where the way is closed."""

from __future__ import annotations

import secrets
from datetime import timedelta
from email.errors import MessageError

from lofty_abacus.actions.briefs.issues import open_issue
from lofty_abacus.actions.briefs.keep_briefs import checked_people
from lofty_abacus.actions.errors import ActionError, NotFoundError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.ports.mail import MailAwayError, MailRefusedError, MailSession, MailUnsureError
from lofty_abacus.actions.records.briefs import MailRecord, NewMail, Person
from lofty_abacus.export.briefs.fonts import Fonts
from lofty_abacus.export.briefs.message import Letter, message_of
from lofty_abacus.export.briefs.page import with_fonts
from lofty_abacus.export.file_names import file_name

#: Minutes until a message is tried again, after the first, second, ... time; after the last it is given up.
WAITS = (1, 5, 15, 60, 240, 720, 1440)


def send_due(office: Office) -> int:
    """Hand over every message whose time has come; how many were taken. Never raises for a message."""
    due = office.books.outbox.due(office.now())
    if not due:
        return 0
    try:
        with office.mail.session() as session:
            return sum(_send(office, session, each) for each in due)
    except MailAwayError as error:
        for each in due:
            if office.books.outbox.claim(each.id):
                _later(office, each, str(error))
        return 0


def _send(office: Office, session: MailSession, record: MailRecord) -> bool:
    """Hand one message over. It is taken in the record first: whatever happens then, it is not sent again by itself."""
    try:
        message = _message(office, record)
    except (ActionError, MessageError, ValueError) as error:
        # What is to be sent is not there, not what was published, or no mail: nobody gets it.
        if office.books.outbox.claim(record.id):
            office.books.outbox.ended(record.id, "given_up", str(error))
        return False
    if not office.books.outbox.claim(record.id):
        return False
    try:
        session.send(record.mail.address, message)
    except MailAwayError as error:
        _later(office, record, str(error))
    except MailRefusedError as error:
        office.books.outbox.ended(record.id, "given_up", str(error))
    except MailUnsureError as error:
        office.books.outbox.ended(record.id, "unsure", str(error))
    else:
        office.books.outbox.ended(record.id, "sent", "")
        return True
    return False


def _later(office: Office, record: MailRecord, said: str) -> None:
    if record.attempts >= len(WAITS):
        office.books.outbox.ended(record.id, "given_up", said)
        return
    wait = timedelta(minutes=WAITS[record.attempts])
    office.books.outbox.ended(record.id, "waiting", said, office.now() + wait)


def _message(office: Office, record: MailRecord) -> bytes:
    mail = record.mail
    letter = Letter(mail.message_id, office.mail.about.sender, mail.address, mail.name, mail.subject, mail.body, record.made_at)
    if mail.issue_id is None:
        return message_of(letter)
    opened = open_issue(office, mail.issue_id, mail.place)
    # Families of the reader's own: a mail with fonts in it would be larger than what it says.
    html = with_fonts(opened.content.html, Fonts(), "within")
    return message_of(letter, html, opened.content.pdf, file_name(opened.record.title, opened.record.as_of, "pdf"))


def send_again(office: Office, mail_id: int) -> None:
    """Send a message that was given up or is unsure once more. Raises NotFoundError."""
    if not office.books.outbox.again(mail_id, office.now()):
        raise NotFoundError("This message waits, or was sent already.")


def send_test(office: Office, ledger: str, address: str) -> None:
    """A message that shows whether mail arrives. Raises QuestionError, NotFoundError."""
    (person,) = checked_people((Person(address),))
    record = office.books.ledger(ledger)
    body = f"This is a test from Lofty Abacus, asked for by {office.person or 'somebody'} in {record.name}.\nMail arrives here.\n"
    mail = NewMail(f"test-{secrets.token_hex(12)}@lofty-abacus", person.address, "", "Test of Lofty Abacus", body)
    office.books.outbox.add(record.id, [mail])
