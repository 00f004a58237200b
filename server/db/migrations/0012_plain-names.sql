-- Up Migration

-- Tables and columns by the names that the code uses.
ALTER TABLE said RENAME TO thread_messages;
ALTER INDEX said_quote RENAME TO thread_messages_quote;
ALTER INDEX said_enquiry RENAME TO thread_messages_enquiry;
ALTER TABLE page_maps RENAME COLUMN told_at TO notified_at;
