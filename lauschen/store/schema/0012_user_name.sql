-- User-Name in an Accept: nothing, a pseudonym, or the guest's name.

UPDATE dialect SET settings = json_remove(
    json_set(settings, '$.user_name', CASE json_extract(settings, '$.says_user') WHEN 1 THEN 'pseudonym' ELSE 'nothing' END),
    '$.says_user');
