"""1024 German words of three to eight letters without accents, for passphrases; our own list."""

_TEXT = """
abend acker adler affe ahorn akte alarm album allee alles alm alpen altar amboss ampel amsel anfang angel anis
anker anruf antwort anzug apfel april arbeit arena arzt asche atem atlas atom auge august ausflug ausgang
auster auto axt bad balken ball ballade ballon bambus banane bank bart basar basis bauer baum bayern becher
beere beet begriff bein beispiel beitrag berg bericht beruf besen besuch beule beutel bewegung biber biene
bild birke bison bitte blatt blau blech blei blick blitz block blume bluse boden bogen bohne boje boot borke
braten braun brett brief brille brise brunnen brust bucht bude bug bunt busch cello chef chor clown comic
couch creme dach dackel dame dampf danke datum daumen degen delfin denken diamant dichter dienst ding distel
docht dorf dorn dotter drache draht drei dreieck drossel druck duett duft dunkel durst dusche ebbe eber echo
ecke edel efeu egge ehre eiche eidechse eifer eimer einfach einkauf eis eisen elch elefant elf elster eltern
emaille energie eng enkel ente enzian erbse erde erfolg erker ernte esel essen essig etage eule euro ewig
fabel faden fahne fahrt falke falte familie fang fass faust fee feier feige fels fenster ferien ferkel fern
fest feuer fichte fieber figur film finger fink firma flach flagge flamme flasche fleck flieder fliege floh
flosse flucht flur fluss fohlen folge form forst foto frage frau frei freitag freude freund frisch frist froh
frosch frucht fuchs funke furche futter gabel galerie galopp gams gans garage garbe garn garten gasse gast
gaumen gebet geburt gedicht geduld gefahr gegend geige geist gelb geld gelenk gemse genau gepard gerste geruch
gesang gesicht gestern gewicht gewinn gibbon giebel ginster gipfel giraffe gitarre glanz glas glatt gleis
glocke glut gnade gold gondel gong gras griff grille groschen grotte grube grund gruppe gruss gulasch gummi
gurke gurt haar habicht hafen hafer hagel hahn haken halle hals halt hammer hamster hang harfe harke hasel
haube haus hebel hecht hecke heft heide heiter helfer hell helm hemd henne herbst herd hering herz heu hilfe
himbeere himmel hirsch hirt hitze hobel hof hoffnung holz honig hopfen hose hotel hummel humor hund hunger
hupe hut idee igel imker insel instinkt jacke jagd jaguar jahr januar jasmin jubel jugend juli jung juni juwel
kabine kachel kaffee kahn kaiser kakao kalb kalk kamel kamera kamin kamm kanal kante kanu kapelle kappe
karotte karpfen karte kastanie kasten kater katze kauz kegel kehle keim keks kelch keller kerbe kern kerze
kessel kette kiefer kies kind kino kirche kirsche kissen kiste klang klar klasse klavier klee kleid klein
klippe klotz klug knabe knie knopf knospe knoten koala koch koffer kohl komet kompass konzert korb kork kraft
kragen kran kranz kraut kreide kreis kresse kreuz krone krug kuchen kuckuck kugel kuh kunde kunst kupfer kurs
kurve kurz kutsche lachen lachs lack laden lager lama lamm lampe land lanze laterne laub lauch lauf laune laut
lawine leben leder leer lehm lehrer leicht leine leise leiter lerche licht lieb lied lilie linde linse lippe
liste loch locke lotse lotus lupe lust magd magen magnet mai mais makrele malen mandel mango mann mantel
marder markt marmor masche maske matte mauer maul meer mehl meile meister melodie melone mensch messe meter
miete milch mild minute minze mispel mist mittwoch mode mohn molch moment monat mond montag moor moos morgen
motor motte mulde mund murmel museum musik muskat mut mutter nacht nadel nagel nah name narbe narr natur nebel
nelke nest netz neu neun nichte nickel nieder nomade nord note november nudel null nuss oase oben obst ofen
offen ohr oktober olive onkel opal oper orange orden ordnung organ orkan ort osten ostern otter oval ozean
paar packen paddel palast palme panda panther papagei papier pappel park pass pastete pauke pause pedal
pelikan pelz perle person petunie pfad pfahl pfanne pfau pfeife pfeil pferd pfiff pflanze pflaume pflug pfote
pfund piano picknick pilot pilz pinie pinsel pirat pirol plan planet platz plus pokal polster pony portal post
pracht preis prinz probe profil prosa prozent pudel puder puls pult pumpe punkt puppe purpur quadrat qualle
quark quarz quelle quer quitte rabe radio rahmen rakete rampe rand ranke raps rasen rast rat rauch raupe rebe
rechen recht rede regal regen reich reif reihe reim reise rekord rennen rettich rezept rhythmus richter riegel
ring rinne ritter robbe rock roggen rohr rolle roman rose rosine rosmarin rot route ruder ruf ruhe rutsche
saal sache sack sage saite salat salbe salbei salz samen samt sand sanft sardine satt sattel sauber sauna
schaf schale schall schatten schatz schaum schein schere scherz scheune schicht schiene schiff schild schilf
schirm schlaf schlange schloss schluck schmied schnee schnell schnur schote schrank schritt schuh schule
schulter schutz schwan schwarm schwelle schwert sechs seele segel sehne seife seil seite sekunde senf sense
serie sessel sieb sieben sieg silber singen sinn sirup sitz skizze socke sofa sohle sohn sommer sonne sonntag
sorge sorte spange spargel spaten spatz specht speer speise spiegel spiel spinat spinne spitze sport sprache
spritze spule spur stab stadt stahl stall stamm stange star staub steg stein stelle steuer stiefel stier stift
still stimme stirn stock stoff stolz storch strand strauch strauss strich strom strumpf stube studie stufe
stuhl stunde sturm suche summe suppe tabelle tafel tag takt talent talg tanne tanz tapete taste tau taube taxi
tee teich teig teil teller tempel tempo tennis teppich termin text theater thema thermik tief tiger tinte
tisch titel tochter ton topf tor torte tour tracht traktor traube traum treffen treppe treue trick tritt
trocken trog trommel tropfen trost truhe tuch tulpe tunnel turm turnen tusche ufer uhr ulme umweg unten urlaub
ursprung vase vater veilchen ventil verein vers vetter vier villa violett vogel volk voll vorhang vorrat
vulkan waage wachs wachtel waffel wagen wahl wal wald walnuss wanne wappen warm warte wasser watte weber weg
weide wein weiss weizen welle welt wende werk wespe weste wetter wicke widder wiege wiese wind winkel winter
wippe wirt wissen woche wolf wolke wort wunder wunsch wurf wurzel zahl zander zange zart zauber zaun zebra
zehn zeichen zeile zeit zelt zettel zeuge ziege ziegel ziel zimmer zimt zinn zirkel zirkus zitat zitrone zoll
zopf zucker zug zunge zweck zwei zweig zwerg zwiebel
"""
WORDS = tuple(_TEXT.split())
