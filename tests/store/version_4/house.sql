PRAGMA user_version = 4;
BEGIN TRANSACTION;
CREATE TABLE "access_device" (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    name TEXT NOT NULL UNIQUE,
    address TEXT NOT NULL UNIQUE,
    secret_sealed BLOB NOT NULL,
    dialect INTEGER NOT NULL REFERENCES dialect,
    coa_port INTEGER NOT NULL CHECK (coa_port BETWEEN 1 AND 65535),
    old_secret_sealed BLOB,
    coa_address TEXT,
    hears_unsigned INTEGER NOT NULL DEFAULT 0,
    tls_identity TEXT
) STRICT;
INSERT INTO "access_device" VALUES(1,'Garden west','127.77.0.11',X'4A0AD77096D06ACD81A357CDFC45F59CC7CF67231D3A73ECDBC3A9482F61FF599752710216C7BA0F38258D85299FB130101E2EBD',1,3799,NULL,NULL,0,NULL);
INSERT INTO "access_device" VALUES(2,'Concert barn','127.77.0.12',X'B5822C1174A02F1209696D8976F1F873DC5B65E163E4A5F2E32E66C71860FB6DA03C9069AEBB5078FE42AE9754F9A59B1D6429DD',1,3799,NULL,NULL,0,NULL);
CREATE TABLE address (
    mac INTEGER NOT NULL,
    text TEXT NOT NULL,
    source TEXT NOT NULL,
    seen REAL NOT NULL,
    PRIMARY KEY (mac, text, source)
) STRICT, WITHOUT ROWID;
INSERT INTO "address" VALUES(2199034444545,'10.77.2.1','accounting',1780000000.0);
INSERT INTO "address" VALUES(2199034444554,'10.77.2.10','accounting',1780000121.0);
INSERT INTO "address" VALUES(2199034444546,'10.77.2.2','accounting',1780000000.0);
INSERT INTO "address" VALUES(2199034444547,'10.77.2.3','accounting',1780000000.0);
INSERT INTO "address" VALUES(2199034444548,'10.77.2.4','accounting',1780000060.0);
INSERT INTO "address" VALUES(2199034444549,'10.77.2.5','accounting',1780000060.0);
INSERT INTO "address" VALUES(2199034444550,'10.77.2.6','accounting',1780000120.0);
INSERT INTO "address" VALUES(2199034444552,'10.77.2.8','accounting',1780000120.0);
INSERT INTO "address" VALUES(2199034444545,'127.77.1.1','page',1780000000.0);
INSERT INTO "address" VALUES(2199034444554,'127.77.1.10','page',1780000121.0);
INSERT INTO "address" VALUES(2199034444546,'127.77.1.2','page',1780000000.0);
INSERT INTO "address" VALUES(2199034444547,'127.77.1.3','page',1780000000.0);
INSERT INTO "address" VALUES(2199034444548,'127.77.1.4','page',1780000060.0);
INSERT INTO "address" VALUES(2199034444549,'127.77.1.5','page',1780000060.0);
INSERT INTO "address" VALUES(2199034444550,'127.77.1.6','page',1780000120.0);
INSERT INTO "address" VALUES(2199034444551,'127.77.1.7','page',1780000120.0);
INSERT INTO "address" VALUES(2199034444552,'127.77.1.8','page',1780000120.0);
INSERT INTO "address" VALUES(2199034444553,'127.77.1.9','page',1780000120.0);
CREATE TABLE "admission" (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    mac INTEGER NOT NULL REFERENCES device,
    network INTEGER NOT NULL REFERENCES network,
    credential INTEGER NOT NULL REFERENCES credential,
    token TEXT NOT NULL UNIQUE,
    begun REAL NOT NULL,
    ended REAL,
    end_reason TEXT,
    seat_since REAL
) STRICT;
INSERT INTO "admission" VALUES(1,2199034444545,1,1,'0000000000000012',1780000000.0,NULL,NULL,1780000000.0);
INSERT INTO "admission" VALUES(2,2199034444546,1,2,'0000000000000013',1780000000.0,NULL,NULL,1780000000.0);
INSERT INTO "admission" VALUES(3,2199034444547,1,10,'0000000000000014',1780000000.0,1780000060.0,'data_used_up',NULL);
INSERT INTO "admission" VALUES(4,2199034444548,1,4,'0000000000000015',1780000060.0,1780000060.0,'code_withdrawn',NULL);
INSERT INTO "admission" VALUES(5,2199034444549,1,5,'0000000000000016',1780000060.0,NULL,NULL,NULL);
INSERT INTO "admission" VALUES(6,2199034444550,1,6,'0000000000000017',1780000120.0,1780000120.0,'barred_by_staff',NULL);
INSERT INTO "admission" VALUES(7,2199034444552,1,7,'0000000000000018',1780000120.0,1780000120.0,'logged_out',NULL);
INSERT INTO "admission" VALUES(8,2199034444553,1,8,'0000000000000019',1780000120.0,NULL,NULL,1780000120.0);
INSERT INTO "admission" VALUES(9,2199034444554,1,11,'000000000000001a',1780000121.0,NULL,NULL,1780000121.0);
CREATE TABLE batch (
    id INTEGER PRIMARY KEY,
    plan INTEGER NOT NULL REFERENCES plan,
    size INTEGER NOT NULL,
    label TEXT NOT NULL,
    issued_at REAL NOT NULL,
    issued_by INTEGER REFERENCES staff,
    is_valid INTEGER NOT NULL DEFAULT 0
) STRICT;
INSERT INTO "batch" VALUES(1,1,9,'',1780000000.0,1,1);
INSERT INTO "batch" VALUES(2,2,3,'',1780000000.0,1,1);
INSERT INTO "batch" VALUES(3,1,5,'',1780000000.0,1,1);
CREATE TABLE credential (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL,
    plan INTEGER NOT NULL REFERENCES plan,
    batch INTEGER REFERENCES batch,
    code_hash BLOB NOT NULL UNIQUE,
    code_sealed BLOB NOT NULL,
    issued_at REAL NOT NULL,
    first_used REAL,
    octets INTEGER NOT NULL DEFAULT 0,
    given_seconds INTEGER NOT NULL DEFAULT 0,
    given_octets INTEGER NOT NULL DEFAULT 0,
    withdrawn_at REAL
, data_out_at REAL) STRICT;
INSERT INTO "credential" VALUES(1,'voucher',1,1,X'9998163E99B0897073477F319690F3D264E2C7A16CA07D6FEA3E2AC7896CBD6F',X'70FB2BD6F8663CE9D130209F924F0AA2702695B1199F6942C61488168FB1E7C2C9330FDA9F3A',1780000000.0,1780000000.0,11000,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(2,'voucher',1,1,X'29DC5DD385AEBB25BB1AFC4E7AFB248B5EC74D3D8F2ACEDB76479F9FF20D9F04',X'9F5D63B4895DE59510F54060B368CC06EA56F9A240EA6136DE7FB8444D761A16DD11E17C1FFB',1780000000.0,1780000000.0,22000,1800,0,NULL,NULL);
INSERT INTO "credential" VALUES(3,'voucher',1,1,X'0655478B690EF0E17F94AD810F4C004972E7DC9ABBB86E04465808690CDA4AAA',X'889083E1A432DC0E412C0BB356AF520CE26DDA7097EB1443FD9287F951915D4C691647E549E4',1780000000.0,NULL,0,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(4,'voucher',1,1,X'A2F71DEA05337B41EEEAED481852D604A942049B6E6F797801A88A7DCDCA9DD6',X'DC3FF3020BCA5AC17FB6B4298154EF9CFC82F2B8C18F959F8ED803AA046722D3102E2608BA93',1780000000.0,1780000060.0,44000,0,0,1780000060.0,NULL);
INSERT INTO "credential" VALUES(5,'voucher',1,1,X'5839121086AC59086F9E6DB31EF301FAEDBD7167C145B9FB5D877ED582140D90',X'FC546C4BC4101A4AA0B73DDE8BB47ACD5A149094063818AD207E7598CB74DD67BBA37E2100E6',1780000000.0,1780000060.0,77000,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(6,'voucher',1,1,X'7E83949ADC8A2897160AD02CDB80D44099FC1AA3E6B1CF29DC687539CB13262E',X'9CB1F74FFDD54B90269A35646631B89303181080AD188B0EBB3813FC4EDBD170F3C3AED4F0C7',1780000000.0,1780000120.0,66000,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(7,'voucher',1,1,X'861CAE4241AAA49B9286DEAF9B4437234BB80F3A37D4186E27D13D7C449A557A',X'D319059BD26D0EF1EE03BE223DB1C9FAA83AD1394928DB371593586DE964BCCCEA9F59B47426',1780000000.0,1780000120.0,88000,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(8,'voucher',1,1,X'A1EC849AE6F024571582BE3F967720F6004BE8D80F0D46AF7C76763193F92B51',X'C9E9243AF741FA4B294F40D9A9A5C6C049BF94D8A2586171F8B9F0F9714D5D92F263187A9307',1780000000.0,1780000120.0,0,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(9,'voucher',1,1,X'FE3885A3B504791BF2314AF94D002014EAC32A4D8441E1FC2F90EAD045BF922D',X'81E07F14A9AF1C0AEDB4BD278604E1364C9CC9D4DE69CF153674D57889E048673FDBD3CAA0C0',1780000000.0,NULL,0,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(10,'voucher',2,2,X'35E4F10668BDC0A42A8FE5A11F54C4A952A74197419421EE18C7A0D581F89A86',X'A8F471D02EC79EABA525B39334718BFEFEA806196E1ABE651B688D9F4DAD6B9C635774B5B701',1780000000.0,1780000000.0,4300967296,0,0,NULL,1780000060.0);
INSERT INTO "credential" VALUES(11,'voucher',2,2,X'E824C73980D17AD612060F75F93972E45926370D156F6E02426F132C2BDDA07B',X'88B1FFC7CB47B374735C42FE51095DE04C7BE68F022EB682A384C8FF12AAA8607B96D3FC304A',1780000000.0,1780000121.0,110000,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(12,'voucher',2,2,X'6BB67B558484B5D5A5AB95F0F91046B611B83E19ADACD0304EB568430AFBF5F8',X'61AD91EECD4172E9072A13237C809E6769664590E45598D22D58005EA86449A702BECE06F5D3',1780000000.0,NULL,0,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(13,'voucher',1,3,X'0E43B85CB66B73E2618AAE4C847779C8E50A2AA0D237CDE582C6F835C0EF342F',X'D2B7CFA1B65B5DA2DAFEC2DF5A42E743A822887D65E74ACA077424C71D25CC887246EBE6858A',1780000000.0,NULL,0,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(14,'voucher',1,3,X'6CA721234E9AF009C93348AF1A8D502E9226F77B7A0D1C5D44C0E4529C0D0A4E',X'BFE4DA64A625808AF885CEF88A9C6C2E5D064BBC58B55302E0A91172796B8D0A7E5D3C2FE541',1780000000.0,NULL,0,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(15,'voucher',1,3,X'A9BB832CC1813CFCA433C71F352C40ACA7D0BD2DE05AB9045DA2F32ABACBDA2D',X'C8F92836B6F845767BB1803D6BCD587F2CE31227C57237D4EBFC340BA33EAC6B645FD41CD325',1780000000.0,NULL,0,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(16,'voucher',1,3,X'E42780B2814F29DD83165FCD4D692DF3BE2A6D5B9D1594B0365714C5592EC57A',X'CE40A370CDF75828425BDB4B87DF34B3E74B8A3806D81D918608F2A24885DC453B23C550FADD',1780000000.0,NULL,0,0,0,NULL,NULL);
INSERT INTO "credential" VALUES(17,'voucher',1,3,X'9AD6C57EA92D998140B925595981B47E775C21DAF31FC8D6B630E115CCECB882',X'5056EA49D4A37390D43E3EBA8B2B9483D94A511DB288E4EAA0FD09C90721C9CF8B4D2D43FA96',1780000000.0,NULL,0,0,0,NULL,NULL);
CREATE TABLE decision (
    id INTEGER PRIMARY KEY,
    at REAL NOT NULL,
    mac INTEGER NOT NULL,
    network INTEGER,
    access_device INTEGER NOT NULL,
    medium TEXT NOT NULL,
    answer TEXT NOT NULL,
    reason TEXT NOT NULL,
    role INTEGER,
    rule INTEGER,
    until REAL,
    trace TEXT NOT NULL,
    repeats INTEGER NOT NULL DEFAULT 0,
    before INTEGER
) STRICT;
INSERT INTO "decision" VALUES(4,1780000000.0,2199034444545,1,1,'asked','door','needs_code',1,NULL,NULL,'[["network","ssid",1],["device","new",1,"asked"],["bars","none"],["credential","needs_code"],["placement","door",1]]',0,NULL);
INSERT INTO "decision" VALUES(7,1780000000.0,2199034444545,1,1,'page','admit','admitted',2,1,1780028800.0,'[["network","token",1],["device","known",1,"page"],["bars","none"],["credential","offered",1],["limits","time",1,28800,1780028800.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,4);
INSERT INTO "decision" VALUES(8,1780000000.0,2199034444545,1,1,'reauthorised','admit','admitted',2,1,1780028800.0,'[["network","ssid",1],["device","known",1,"reauthorised"],["bars","none"],["credential","admitted",1],["limits","time",1,28800,1780028800.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,7);
INSERT INTO "decision" VALUES(9,1780000000.0,2199034444546,1,1,'asked','door','needs_code',1,NULL,NULL,'[["network","ssid",1],["device","new",1,"asked"],["bars","none"],["credential","needs_code"],["placement","door",1]]',0,NULL);
INSERT INTO "decision" VALUES(12,1780000000.0,2199034444546,1,1,'page','admit','admitted',2,1,1780028800.0,'[["network","token",1],["device","known",1,"page"],["bars","none"],["credential","offered",2],["limits","time",1,28800,1780028800.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,9);
INSERT INTO "decision" VALUES(13,1780000000.0,2199034444546,1,1,'reauthorised','admit','admitted',2,1,1780028800.0,'[["network","ssid",1],["device","known",1,"reauthorised"],["bars","none"],["credential","admitted",2],["limits","time",1,28800,1780028800.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,12);
INSERT INTO "decision" VALUES(15,1780000000.0,2199034444547,1,1,'asked','door','needs_code',1,NULL,NULL,'[["network","ssid",1],["device","new",1,"asked"],["bars","none"],["credential","needs_code"],["placement","door",1]]',0,NULL);
INSERT INTO "decision" VALUES(18,1780000000.0,2199034444547,1,1,'page','admit','admitted',2,1,1780003600.0,'[["network","token",1],["device","known",1,"page"],["bars","none"],["credential","offered",10],["limits","time",2,3600,1780003600.0,5000000,"left"],["placement","rule",1,1,2,0]]',0,15);
INSERT INTO "decision" VALUES(19,1780000000.0,2199034444547,1,1,'reauthorised','admit','admitted',2,1,1780003600.0,'[["network","ssid",1],["device","known",1,"reauthorised"],["bars","none"],["credential","admitted",10],["limits","time",2,3600,1780003600.0,5000000,"left"],["placement","rule",1,1,2,0]]',0,18);
INSERT INTO "decision" VALUES(21,1780000060.0,2199034444547,1,1,'asked','door','data_used_up',1,NULL,NULL,'[["network","ssid",1],["device","known",1,"asked"],["bars","none"],["credential","data_used_up"],["placement","door",1]]',0,19);
INSERT INTO "decision" VALUES(22,1780000060.0,2199034444548,1,1,'asked','door','needs_code',1,NULL,NULL,'[["network","ssid",1],["device","new",1,"asked"],["bars","none"],["credential","needs_code"],["placement","door",1]]',0,NULL);
INSERT INTO "decision" VALUES(25,1780000060.0,2199034444548,1,1,'page','admit','admitted',2,1,1780028860.0,'[["network","token",1],["device","known",1,"page"],["bars","none"],["credential","offered",4],["limits","time",1,28800,1780028860.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,22);
INSERT INTO "decision" VALUES(26,1780000060.0,2199034444548,1,1,'reauthorised','admit','admitted',2,1,1780028860.0,'[["network","ssid",1],["device","known",1,"reauthorised"],["bars","none"],["credential","admitted",4],["limits","time",1,28800,1780028860.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,25);
INSERT INTO "decision" VALUES(28,1780000060.0,2199034444549,1,1,'asked','door','needs_code',1,NULL,NULL,'[["network","ssid",1],["device","new",1,"asked"],["bars","none"],["credential","needs_code"],["placement","door",1]]',0,NULL);
INSERT INTO "decision" VALUES(31,1780000060.0,2199034444549,1,1,'page','admit','admitted',2,1,1780028860.0,'[["network","token",1],["device","known",1,"page"],["bars","none"],["credential","offered",5],["limits","time",1,28800,1780028860.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,28);
INSERT INTO "decision" VALUES(32,1780000060.0,2199034444549,1,1,'reauthorised','admit','admitted',2,1,1780028860.0,'[["network","ssid",1],["device","known",1,"reauthorised"],["bars","none"],["credential","admitted",5],["limits","time",1,28800,1780028860.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,31);
INSERT INTO "decision" VALUES(34,1780000120.0,2199034444550,1,1,'asked','door','needs_code',1,NULL,NULL,'[["network","ssid",1],["device","new",1,"asked"],["bars","none"],["credential","needs_code"],["placement","door",1]]',0,NULL);
INSERT INTO "decision" VALUES(37,1780000120.0,2199034444550,1,1,'page','admit','admitted',2,1,1780028920.0,'[["network","token",1],["device","known",1,"page"],["bars","none"],["credential","offered",6],["limits","time",1,28800,1780028920.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,34);
INSERT INTO "decision" VALUES(38,1780000120.0,2199034444550,1,1,'reauthorised','admit','admitted',2,1,1780028920.0,'[["network","ssid",1],["device","known",1,"reauthorised"],["bars","none"],["credential","admitted",6],["limits","time",1,28800,1780028920.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,37);
INSERT INTO "decision" VALUES(40,1780000120.0,2199034444550,1,1,'asked','door','barred_by_staff',1,NULL,NULL,'[["network","ssid",1],["device","known",1,"asked"],["bars","staff",1780000120.0],["placement","door",1]]',0,38);
INSERT INTO "decision" VALUES(41,1780000120.0,2199034444551,1,1,'asked','door','needs_code',1,NULL,NULL,'[["network","ssid",1],["device","new",1,"asked"],["bars","none"],["credential","needs_code"],["placement","door",1]]',0,NULL);
INSERT INTO "decision" VALUES(45,1780000120.0,2199034444552,1,1,'asked','door','needs_code',1,NULL,NULL,'[["network","ssid",1],["device","new",1,"asked"],["bars","none"],["credential","needs_code"],["placement","door",1]]',0,NULL);
INSERT INTO "decision" VALUES(48,1780000120.0,2199034444552,1,1,'page','admit','admitted',2,1,1780028920.0,'[["network","token",1],["device","known",1,"page"],["bars","none"],["credential","offered",7],["limits","time",1,28800,1780028920.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,45);
INSERT INTO "decision" VALUES(49,1780000120.0,2199034444552,1,1,'reauthorised','admit','admitted',2,1,1780028920.0,'[["network","ssid",1],["device","known",1,"reauthorised"],["bars","none"],["credential","admitted",7],["limits","time",1,28800,1780028920.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,48);
INSERT INTO "decision" VALUES(51,1780000120.0,2199034444552,1,1,'reauthorised','door','needs_code',1,NULL,NULL,'[["network","ssid",1],["device","known",1,"reauthorised"],["bars","none"],["credential","needs_code"],["placement","door",1]]',0,49);
INSERT INTO "decision" VALUES(52,1780000120.0,2199034444553,1,1,'asked','door','needs_code',1,NULL,NULL,'[["network","ssid",1],["device","new",1,"asked"],["bars","none"],["credential","needs_code"],["placement","door",1]]',0,NULL);
INSERT INTO "decision" VALUES(55,1780000120.0,2199034444553,1,1,'page','admit','admitted',2,1,1780028920.0,'[["network","token",1],["device","known",1,"page"],["bars","none"],["credential","offered",8],["limits","time",1,28800,1780028920.0,2000000000,"left"],["placement","rule",1,1,2,0]]',0,52);
INSERT INTO "decision" VALUES(56,1780000121.0,2199034444554,1,1,'asked','door','needs_code',1,NULL,NULL,'[["network","ssid",1],["device","new",1,"asked"],["bars","none"],["credential","needs_code"],["placement","door",1]]',0,NULL);
INSERT INTO "decision" VALUES(59,1780000121.0,2199034444554,1,1,'page','admit','admitted',2,1,1780003721.0,'[["network","token",1],["device","known",1,"page"],["bars","none"],["credential","offered",11],["limits","time",2,3600,1780003721.0,5000000,"left"],["placement","rule",1,1,2,0]]',0,56);
INSERT INTO "decision" VALUES(60,1780000121.0,2199034444554,1,1,'reauthorised','admit','admitted',2,1,1780003721.0,'[["network","ssid",1],["device","known",1,"reauthorised"],["bars","none"],["credential","admitted",11],["limits","time",2,3600,1780003721.0,5000000,"left"],["placement","rule",1,1,2,0]]',0,59);
CREATE TABLE device (
    mac INTEGER PRIMARY KEY,
    first_heard REAL NOT NULL,
    barred_since REAL,
    barred_by INTEGER REFERENCES staff,
    typing_barred_until REAL
) STRICT;
INSERT INTO "device" VALUES(2199034444545,1780000000.0,NULL,NULL,NULL);
INSERT INTO "device" VALUES(2199034444546,1780000000.0,NULL,NULL,NULL);
INSERT INTO "device" VALUES(2199034444547,1780000000.0,NULL,NULL,NULL);
INSERT INTO "device" VALUES(2199034444548,1780000060.0,NULL,NULL,NULL);
INSERT INTO "device" VALUES(2199034444549,1780000060.0,NULL,NULL,NULL);
INSERT INTO "device" VALUES(2199034444550,1780000120.0,1780000120.0,1,NULL);
INSERT INTO "device" VALUES(2199034444551,1780000120.0,NULL,NULL,NULL);
INSERT INTO "device" VALUES(2199034444552,1780000120.0,NULL,NULL,NULL);
INSERT INTO "device" VALUES(2199034444553,1780000120.0,NULL,NULL,NULL);
INSERT INTO "device" VALUES(2199034444554,1780000121.0,NULL,NULL,NULL);
CREATE TABLE device_heard (
    access_device INTEGER NOT NULL REFERENCES access_device ON DELETE CASCADE,
    source TEXT NOT NULL,
    last_heard REAL NOT NULL,
    uses_old_secret INTEGER NOT NULL,
    was_signed INTEGER NOT NULL,
    PRIMARY KEY (access_device, source)
) STRICT, WITHOUT ROWID;
CREATE TABLE "dialect" (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE,
    settings TEXT NOT NULL,
    secrets_sealed BLOB
) STRICT;
INSERT INTO "dialect" VALUES(1,'Garden controller','{"arrives": "handed_out", "appended": {"mac": "mac", "going": "url"}, "attributes": [{"enterprise": 32473, "number": 1, "kind": "text", "template": "{portal_url}", "when": "door"}], "login_move": "reauthorise", "end_move": "disconnect", "pause_ms": 0, "posted": {"url": "", "name_field": "username", "secret_field": "password", "others": []}, "call_in": {"method": "POST", "url": "", "headers": [], "body": "", "good_status": [200, 201, 202, 204], "good_text": ""}, "call_out": {"method": "POST", "url": "", "headers": [], "body": "", "good_status": [200, 201, 202, 204], "good_text": ""}, "honours": ["filter_name", "idle_timeout", "session_timeout", "vlan"], "group_tag": 0, "identify": [], "signs_changes": true, "timeout_from_start": false, "ack_confirms": true, "says_user": false, "counts": true, "remembers_s": 35}',NULL);
CREATE TABLE heard (
    id INTEGER PRIMARY KEY,
    at REAL NOT NULL,
    kind TEXT NOT NULL,
    mac INTEGER,
    network INTEGER,
    access_device INTEGER,
    staff INTEGER,
    facts TEXT NOT NULL
) STRICT;
INSERT INTO "heard" VALUES(1,1780000000.0,'issued',NULL,NULL,NULL,1,'{"count": 9, "plan": 1, "batch": 1}');
INSERT INTO "heard" VALUES(2,1780000000.0,'issued',NULL,NULL,NULL,1,'{"count": 3, "plan": 2, "batch": 2}');
INSERT INTO "heard" VALUES(3,1780000000.0,'issued',NULL,NULL,NULL,1,'{"count": 5, "plan": 1, "batch": 3}');
INSERT INTO "heard" VALUES(5,1780000000.0,'stay_began',2199034444545,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(6,1780000000.0,'page_opened',2199034444545,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(10,1780000000.0,'stay_began',2199034444546,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(11,1780000000.0,'page_opened',2199034444546,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(14,1780000000.0,'time_given',2199034444546,1,NULL,1,'{"seconds": 1800, "voucher": 2}');
INSERT INTO "heard" VALUES(16,1780000000.0,'stay_began',2199034444547,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(17,1780000000.0,'page_opened',2199034444547,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(20,1780000060.0,'limit_reached',2199034444547,1,1,NULL,'{"reason": "data_used_up"}');
INSERT INTO "heard" VALUES(23,1780000060.0,'stay_began',2199034444548,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(24,1780000060.0,'page_opened',2199034444548,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(27,1780000060.0,'withdrawn',2199034444548,1,NULL,1,'{"voucher": 4}');
INSERT INTO "heard" VALUES(29,1780000060.0,'stay_began',2199034444549,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(30,1780000060.0,'page_opened',2199034444549,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(33,1780000120.0,'stay_ended',2199034444549,1,1,NULL,'{"cause": "user_request", "octets": 77000}');
INSERT INTO "heard" VALUES(35,1780000120.0,'stay_began',2199034444550,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(36,1780000120.0,'page_opened',2199034444550,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(39,1780000120.0,'barred',2199034444550,1,1,1,'{}');
INSERT INTO "heard" VALUES(42,1780000120.0,'stay_began',2199034444551,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(43,1780000120.0,'page_opened',2199034444551,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(44,1780000120.0,'code_slip',2199034444551,1,1,NULL,'{"slip": "check"}');
INSERT INTO "heard" VALUES(46,1780000120.0,'stay_began',2199034444552,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(47,1780000120.0,'page_opened',2199034444552,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(50,1780000120.0,'logged_out',2199034444552,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(53,1780000120.0,'stay_began',2199034444553,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(54,1780000120.0,'page_opened',2199034444553,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(57,1780000121.0,'stay_began',2199034444554,1,1,NULL,'{}');
INSERT INTO "heard" VALUES(58,1780000121.0,'page_opened',2199034444554,1,1,NULL,'{}');
CREATE TABLE house (
    one INTEGER PRIMARY KEY CHECK (one = 1),
    site_name TEXT NOT NULL,
    zone TEXT NOT NULL,
    page_url TEXT NOT NULL,
    slip_host TEXT NOT NULL,
    key_id TEXT NOT NULL,
    canary BLOB NOT NULL
) STRICT;
INSERT INTO "house" VALUES(1,'Hollerau Summer Academy','Europe/Vienna','http://welcome.hollerau.example','slip.hollerau.example','ac12c0b6b83b06c6',X'304DF49C441F3F37956CB6CDF5939A43C99E32CDEF0EDCD303416299F94ADE587B32FEF56821F6E3D744CC8586D2D15CFF726A337C4B66673AF038E531');
CREATE TABLE id_mark (
    what TEXT PRIMARY KEY,
    id INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TABLE "network" (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    door_role INTEGER NOT NULL REFERENCES role,
    ssid_match TEXT NOT NULL,
    ssid BLOB NOT NULL,
    nas_identifier_match TEXT NOT NULL DEFAULT 'any',
    nas_identifier BLOB NOT NULL DEFAULT x'',
    port_id_match TEXT NOT NULL DEFAULT 'any',
    port_id BLOB NOT NULL DEFAULT x'',
    port_type INTEGER,
    access_device INTEGER REFERENCES access_device,
    counted_at INTEGER REFERENCES access_device,
    removed_at REAL
) STRICT;
INSERT INTO "network" VALUES(1,'Garden',1,'exact',X'486F6C6C657261752047617264656E','any',X'','any',X'',NULL,NULL,NULL,NULL);
CREATE TABLE "placement" (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL,
    access_device INTEGER NOT NULL,
    role INTEGER NOT NULL,
    admission INTEGER NOT NULL REFERENCES admission,
    begun REAL NOT NULL,
    ended REAL
) STRICT;
INSERT INTO "placement" VALUES(1,2199034444545,1,1,2,1,1780000000.0,NULL);
INSERT INTO "placement" VALUES(2,2199034444546,1,1,2,2,1780000000.0,NULL);
INSERT INTO "placement" VALUES(3,2199034444547,1,1,2,3,1780000000.0,1780000060.0);
INSERT INTO "placement" VALUES(4,2199034444548,1,1,2,4,1780000060.0,NULL);
INSERT INTO "placement" VALUES(5,2199034444549,1,1,2,5,1780000060.0,1780000120.0);
INSERT INTO "placement" VALUES(6,2199034444550,1,1,2,6,1780000120.0,1780000120.0);
INSERT INTO "placement" VALUES(7,2199034444552,1,1,2,7,1780000120.0,1780000120.0);
INSERT INTO "placement" VALUES(8,2199034444554,1,1,2,9,1780000121.0,NULL);
CREATE TABLE plan (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE,
    seconds INTEGER CHECK (seconds > 0),
    idle_seconds INTEGER CHECK (idle_seconds > 0),
    octets INTEGER CHECK (octets > 0),
    devices INTEGER NOT NULL CHECK (devices > 0),
    use_within_days INTEGER CHECK (use_within_days > 0)
) STRICT;
INSERT INTO "plan" VALUES(1,'Day visit',28800,1800,2000000000,1,90);
INSERT INTO "plan" VALUES(2,'Postcard',3600,1800,5000000,1,30);
CREATE TABLE "role" (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    vlan INTEGER CHECK (vlan BETWEEN 1 AND 4094),
    filter_name TEXT,
    is_door INTEGER NOT NULL,
    filter_rules TEXT NOT NULL DEFAULT '',
    removed_at REAL
) STRICT;
INSERT INTO "role" VALUES(1,'Doorstep',310,'doorstep',1,'',NULL);
INSERT INTO "role" VALUES(2,'Visitor',310,'visitor',0,'',NULL);
CREATE TABLE rule (
    id INTEGER PRIMARY KEY,
    position INTEGER NOT NULL UNIQUE,
    network INTEGER REFERENCES network,
    way_in TEXT,
    role INTEGER NOT NULL REFERENCES role
) STRICT;
INSERT INTO "rule" VALUES(1,1,1,'voucher',2);
CREATE TABLE staff (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE,
    password_hash TEXT NOT NULL,
    must_change INTEGER NOT NULL,
    password_until REAL
) STRICT;
INSERT INTO "staff" VALUES(1,'gatehouse','$argon2id$v=19$m=65536,t=3,p=4$2zwOlV6RNUEZeeLs6ZyhWw$u1jy94BPk63Nc4T9xaOoKkMvLvpKOjtv/nMpyjadZ1I',0,NULL);
CREATE TABLE staff_session (
    token_hash BLOB PRIMARY KEY,
    staff INTEGER NOT NULL REFERENCES staff,
    csrf TEXT NOT NULL,
    expires REAL NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TABLE standing (
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL,
    state TEXT NOT NULL,
    since REAL NOT NULL,
    going TEXT,
    reason TEXT,
    access_device INTEGER NOT NULL,
    session_id TEXT,
    spelled TEXT NOT NULL,
    role INTEGER,
    framed_ip TEXT,
    last_heard REAL NOT NULL,
    page_opened REAL,
    code_tried REAL,
    admission INTEGER,
    ends REAL,
    decision INTEGER,
    decision_at REAL NOT NULL DEFAULT 0,
    decision_mark TEXT NOT NULL DEFAULT '',
    repeats INTEGER NOT NULL DEFAULT 0, source TEXT NOT NULL DEFAULT '', reason_at REAL,
    PRIMARY KEY (mac, network)
) STRICT, WITHOUT ROWID;
INSERT INTO "standing" VALUES(2199034444545,1,'inside',1780000000.0,NULL,NULL,1,'S1','020000AABB01',2,'10.77.2.1',1780000000.0,1780000000.0,1780000000.0,1,1780028800.0,8,1780000000.0,'1:reauthorised:admit:admitted:1:2:1',0,'',NULL);
INSERT INTO "standing" VALUES(2199034444546,1,'inside',1780000000.0,NULL,NULL,1,'S2','020000AABB02',2,'10.77.2.2',1780000000.0,1780000000.0,1780000000.0,2,1780030600.0,13,1780000000.0,'1:reauthorised:admit:admitted:1:2:1',1,'',NULL);
INSERT INTO "standing" VALUES(2199034444547,1,'held',1780000060.0,NULL,'data_used_up',1,'S3b','020000AABB03',1,'10.77.2.3',1780000060.0,1780000000.0,1780000000.0,NULL,NULL,21,1780000060.0,'1:asked:door:data_used_up:1:1:None',0,'',1780000060.0);
INSERT INTO "standing" VALUES(2199034444548,1,'inside',1780000060.0,'at_door','code_withdrawn',1,'S4','020000AABB04',2,'10.77.2.4',1780000060.0,1780000060.0,1780000060.0,NULL,NULL,26,1780000060.0,'1:reauthorised:admit:admitted:1:2:1',0,'',1780000060.0);
INSERT INTO "standing" VALUES(2199034444549,1,'left',1780000120.0,NULL,NULL,1,NULL,'020000AABB05',2,'10.77.2.5',1780000120.0,1780000060.0,1780000060.0,5,NULL,32,1780000060.0,'1:reauthorised:admit:admitted:1:2:1',0,'',NULL);
INSERT INTO "standing" VALUES(2199034444550,1,'barred',1780000120.0,NULL,'barred_by_staff',1,'S6b','020000AABB06',1,'10.77.2.6',1780000120.0,1780000120.0,1780000120.0,NULL,NULL,40,1780000120.0,'1:asked:door:barred_by_staff:1:1:None',0,'',1780000120.0);
INSERT INTO "standing" VALUES(2199034444551,1,'at_door',1780000120.0,NULL,'needs_code',1,'S7','020000AABB07',1,NULL,1780000120.0,1780000120.0,NULL,NULL,NULL,41,1780000120.0,'1:asked:door:needs_code:1:1:None',0,'',NULL);
INSERT INTO "standing" VALUES(2199034444552,1,'at_door',1780000120.0,NULL,'logged_out',1,'S8','020000AABB08',1,'10.77.2.8',1780000120.0,NULL,NULL,NULL,NULL,51,1780000120.0,'1:reauthorised:door:needs_code:1:1:None',0,'',1780000120.0);
INSERT INTO "standing" VALUES(2199034444553,1,'at_door',1780000120.0,'inside','needs_code',1,'S9','020000AABB09',1,NULL,1780000120.0,1780000120.0,1780000120.0,8,1780028920.0,55,1780000120.0,'1:page:admit:admitted:1:2:1',0,'',NULL);
INSERT INTO "standing" VALUES(2199034444554,1,'inside',1780000121.0,NULL,NULL,1,'S10','020000AABB0A',2,'10.77.2.10',1780000121.0,1780000121.0,1780000121.0,9,1780003721.0,60,1780000121.0,'1:reauthorised:admit:admitted:1:2:1',0,'',NULL);
CREATE TABLE "stay" (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    mac INTEGER NOT NULL,
    network INTEGER,
    access_device INTEGER NOT NULL,
    nas_identifier TEXT NOT NULL,
    session_id TEXT NOT NULL,
    started REAL NOT NULL,
    last_event REAL NOT NULL,
    session_time INTEGER NOT NULL DEFAULT 0,
    in_raw INTEGER NOT NULL DEFAULT 0,
    in_octets INTEGER NOT NULL DEFAULT 0,
    out_raw INTEGER NOT NULL DEFAULT 0,
    out_octets INTEGER NOT NULL DEFAULT 0,
    saw_gigawords INTEGER NOT NULL DEFAULT 0,
    framed_ip TEXT,
    ended REAL,
    end_cause TEXT,
    root INTEGER,
    multi_session_id TEXT,
    user TEXT,
    counts INTEGER NOT NULL DEFAULT 1,
    gap REAL NOT NULL DEFAULT 0,
    bssid TEXT NOT NULL DEFAULT '',
    nas_address TEXT NOT NULL DEFAULT '',
    packets INTEGER NOT NULL DEFAULT 0
) STRICT;
INSERT INTO "stay" VALUES(1,2199034444545,1,1,'west','S1',1780000000.0,1780000000.0,60,1000,1000,10000,10000,0,'10.77.2.1',NULL,NULL,NULL,NULL,'0000000000000012',1,0.0,'','',0);
INSERT INTO "stay" VALUES(2,2199034444546,1,1,'west','S2',1780000000.0,1780000000.0,60,2000,2000,20000,20000,0,'10.77.2.2',NULL,NULL,NULL,NULL,'0000000000000013',1,0.0,'','',0);
INSERT INTO "stay" VALUES(3,2199034444547,1,1,'west','S3',1780000000.0,1780000060.0,120,0,4294967296,6000000,6000000,0,'10.77.2.3',NULL,NULL,NULL,NULL,'0000000000000014',1,0.0,'','',0);
INSERT INTO "stay" VALUES(4,2199034444548,1,1,'west','S4',1780000060.0,1780000060.0,60,4000,4000,40000,40000,0,'10.77.2.4',NULL,NULL,NULL,NULL,'0000000000000015',1,0.0,'','',0);
INSERT INTO "stay" VALUES(5,2199034444549,1,1,'west','S5',1780000060.0,1780000120.0,120,7000,7000,70000,70000,0,'10.77.2.5',1780000120.0,'user_request',NULL,NULL,'0000000000000016',1,0.0,'','',0);
INSERT INTO "stay" VALUES(6,2199034444550,1,1,'west','S6',1780000120.0,1780000120.0,60,6000,6000,60000,60000,0,'10.77.2.6',NULL,NULL,NULL,NULL,'0000000000000017',1,0.0,'','',0);
INSERT INTO "stay" VALUES(7,2199034444551,1,1,'west','S7',1780000120.0,1780000120.0,0,0,0,0,0,0,NULL,NULL,NULL,NULL,NULL,NULL,1,0.0,'','',0);
INSERT INTO "stay" VALUES(8,2199034444552,1,1,'west','S8',1780000120.0,1780000120.0,60,8000,8000,80000,80000,0,'10.77.2.8',NULL,NULL,NULL,NULL,'0000000000000018',1,0.0,'','',0);
INSERT INTO "stay" VALUES(9,2199034444553,1,1,'west','S9',1780000120.0,1780000120.0,0,0,0,0,0,0,NULL,NULL,NULL,NULL,NULL,NULL,1,0.0,'','',0);
INSERT INTO "stay" VALUES(10,2199034444554,1,1,'west','S10',1780000121.0,1780000121.0,60,10000,10000,100000,100000,0,'10.77.2.10',NULL,NULL,NULL,NULL,'000000000000001a',1,0.0,'','',0);
CREATE TABLE visit (
    id_hash BLOB PRIMARY KEY,
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL,
    access_device INTEGER NOT NULL,
    going TEXT,
    opened_at REAL NOT NULL,
    expires REAL NOT NULL,
    admission INTEGER,
    last_answer TEXT,
    last_answer_at REAL
, proof TEXT NOT NULL DEFAULT 'token', posted_name TEXT, posted_at REAL, posted_used REAL, source TEXT NOT NULL DEFAULT '', barred_until REAL) STRICT, WITHOUT ROWID;
INSERT INTO "visit" VALUES(X'5B3FD891E267406D692231EDD6350E6A75B284803105EBB1B962AA97DB4804DD',2199034444554,1,1,NULL,1780000121.0,1780002521.0,9,'admitted',1780000121.0,'token',NULL,NULL,NULL,'127.77.1.10',NULL);
INSERT INTO "visit" VALUES(X'5C5C4BFF9D7E59C79886CFD6648EE98D7130F099D6E16124A73F6209764ED16F',2199034444545,1,1,NULL,1780000000.0,1780002400.0,1,'admitted',1780000000.0,'token',NULL,NULL,NULL,'127.77.1.1',NULL);
INSERT INTO "visit" VALUES(X'70087E012D1FC47723372DA0FF92B4E2AED9B738203D3C4BB1289BE411FCD225',2199034444553,1,1,NULL,1780000120.0,1780002520.0,8,'admitted',1780000120.0,'token',NULL,NULL,NULL,'127.77.1.9',NULL);
INSERT INTO "visit" VALUES(X'7B665B3CA39726C3A76E97C30AC26CDA3BB6AA0E6A9441E4F5288C415D5C815B',2199034444551,1,1,NULL,1780000120.0,1780002520.0,NULL,'slip:check',1780000120.0,'token',NULL,NULL,NULL,'127.77.1.7',NULL);
INSERT INTO "visit" VALUES(X'8249D907DA02EAD1E5C5716F2359F50404EAE63226EBA22F5D7ABF3718E6CF9C',2199034444548,1,1,NULL,1780000060.0,1780002460.0,4,'admitted',1780000060.0,'token',NULL,NULL,NULL,'127.77.1.4',NULL);
INSERT INTO "visit" VALUES(X'8DA3DAB2C641BEDC748F5A4F444BCEED6679FD4747FF55D672189C2C341439A3',2199034444549,1,1,NULL,1780000060.0,1780002460.0,5,'admitted',1780000060.0,'token',NULL,NULL,NULL,'127.77.1.5',NULL);
INSERT INTO "visit" VALUES(X'A7D92FD372440B4F772218E7D6F90D038709C9014618CCA94CB69CE6E3B520D2',2199034444552,1,1,NULL,1780000120.0,1780002520.0,7,'logged_out',1780000120.0,'token',NULL,NULL,NULL,'127.77.1.8',NULL);
INSERT INTO "visit" VALUES(X'E3D46D2DFABEF1C409CBCF7C105673A8E84A6E0D4C75B79C58F9FB6BE64A630A',2199034444550,1,1,NULL,1780000120.0,1780002520.0,6,'admitted',1780000120.0,'token',NULL,NULL,NULL,'127.77.1.6',NULL);
INSERT INTO "visit" VALUES(X'EF3A7A1C4409CC070D9A2485EE698937486FA7B42DEBEF8F578F873694FED745',2199034444547,1,1,NULL,1780000000.0,1780002400.0,3,'admitted',1780000000.0,'token',NULL,NULL,NULL,'127.77.1.3',NULL);
INSERT INTO "visit" VALUES(X'F784D6FB1D77A5479ACE02C532BF8F6B986150F855B8D65C8BADCD059966BDFD',2199034444546,1,1,NULL,1780000000.0,1780002400.0,2,'admitted',1780000000.0,'token',NULL,NULL,NULL,'127.77.1.2',NULL);
CREATE TABLE wanted (
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL,
    version INTEGER NOT NULL,
    what TEXT NOT NULL,
    stay INTEGER,
    session_id TEXT,
    since REAL NOT NULL,
    tries INTEGER NOT NULL DEFAULT 0,
    next_at REAL NOT NULL,
    last_answer TEXT,
    last_answer_at REAL, until REAL,
    PRIMARY KEY (mac, network)
) STRICT, WITHOUT ROWID;
INSERT INTO "wanted" VALUES(2199034444548,1,1,'out',4,'S4',1780000060.0,0,1780000060.0,NULL,NULL,1780030660.0);
INSERT INTO "wanted" VALUES(2199034444553,1,1,'in',9,'S9',1780000120.0,0,1780000120.0,NULL,NULL,1780003720.0);
CREATE TABLE wrong_try (
    id INTEGER PRIMARY KEY,
    at REAL NOT NULL,
    network INTEGER NOT NULL,
    source TEXT,
    visit BLOB,
    mac INTEGER
) STRICT;
CREATE INDEX device_by_bar ON device (typing_barred_until) WHERE typing_barred_until IS NOT NULL;
CREATE INDEX batch_by_time ON batch (issued_at);
CREATE INDEX credential_by_batch ON credential (batch);
CREATE INDEX standing_by_state ON standing (network, state, since);
CREATE INDEX standing_by_end ON standing (ends) WHERE ends IS NOT NULL;
CREATE INDEX heard_by_device ON heard (mac, id) WHERE mac IS NOT NULL;
CREATE INDEX wanted_by_time ON wanted (next_at);
CREATE INDEX visit_by_end ON visit (expires);
CREATE INDEX standing_by_address ON standing (framed_ip) WHERE framed_ip IS NOT NULL;
CREATE UNIQUE INDEX visit_by_posted_name ON visit (posted_name) WHERE posted_name IS NOT NULL;
CREATE UNIQUE INDEX role_name ON role (name) WHERE removed_at IS NULL;
CREATE UNIQUE INDEX network_name ON network (name) WHERE removed_at IS NULL;
CREATE INDEX address_by_time ON address (seen);
CREATE INDEX admission_open ON admission (credential) WHERE ended IS NULL;
CREATE INDEX admission_by_credential ON admission (credential, begun);
CREATE INDEX admission_by_device ON admission (mac, begun);
CREATE INDEX stay_open ON stay (mac, session_id, access_device) WHERE ended IS NULL;
CREATE INDEX stay_by_device ON stay (mac, started);
CREATE INDEX stay_open_by_access_device ON stay (access_device) WHERE ended IS NULL;
CREATE INDEX placement_open ON placement (mac) WHERE ended IS NULL;
CREATE INDEX placement_by_admission ON placement (admission);
CREATE INDEX placement_by_device ON placement (mac, network, begun);
CREATE INDEX wrong_try_by_visit ON wrong_try (visit, at) WHERE visit IS NOT NULL;
CREATE INDEX wrong_try_by_device ON wrong_try (mac, at) WHERE mac IS NOT NULL;
CREATE INDEX wrong_try_by_source ON wrong_try (source, at) WHERE source IS NOT NULL;
CREATE INDEX wrong_try_by_network ON wrong_try (network, at);
CREATE INDEX visit_by_device ON visit (mac, network);
CREATE INDEX decision_refused ON decision (mac, id) WHERE answer = 'refuse';
CREATE INDEX address_by_text ON address (text, seen);
DELETE FROM "sqlite_sequence";
INSERT INTO "sqlite_sequence" VALUES('access_device',2);
INSERT INTO "sqlite_sequence" VALUES('admission',9);
INSERT INTO "sqlite_sequence" VALUES('stay',10);
INSERT INTO "sqlite_sequence" VALUES('placement',8);
COMMIT;
