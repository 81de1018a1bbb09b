"""1024 English words of three to eight letters without accents, for passphrases; our own list."""

_TEXT = """
acid acorn acre actor admit adopt adult again agent agile ahead aisle alarm album alert alike allow almond
along alpha alpine also alter amber amble anchor animal ankle answer apart apple april apron aqua arena argue
arise aside aspen atlas atom attic august aunt autumn avoid awake award away awning axis axle baby back badge
bag baker ballad bamboo banana banjo barley barrel base basin basket baton bean beauty become bee beech before
begin behind belong below belt beside beyond bike birch bird bishop blaze blend bless blink bloom blouse board
body bonnet boot borrow both bottle bottom bowl braid brave break breeze brick bright bring bronze brook brown
brush bubble bucket buckle budget build bulb bundle buoy burst bus butter button buzz cabin cactus cafe camel
camera camp canal candy canoe canvas card cargo carpet carry cat cattle cedar celery cell cement cereal chain
chalk change chapel chart chase cheer cheese cherry chest chief child chilly chime choice choir choose chord
chorus cinema circle circus city civil claim clap class clear clerk clever cliff climb clinic cloak close
cloth club coach cobalt cocoa color comb comet comic common cook cookie copper coral core corner cosmos cotton
couple course court cousin cow crab cradle crane crater crayon create creek crew crisp cross crowd cruise
crumb cube cuckoo cup curl curve custom cycle daisy dance daring dash date decade decent deer delay delta
denim depth desert desk detail dial diary dinner direct divide doctor dollar door double dove dozen dragon
drama draw dream drift drink drive drop drum dry duck duet duty dwell eager eagle early earth easel easy echo
either elbow elder elm empty enamel end energy engine enjoy enough enter entire equal errand essay event exact
excite exit expert extra eye fabric fact faith falcon family famous fan feast fence fern fetch fiber field fig
figure film final find finish fire first fish flask flavor flax fleet flight flint float flock flood flour
flow flower fluid flute fly foam folk forest forge fort fossil fox frame fresh friend frog frost fruit full
fur future gable galaxy garage garden garlic garnet gather gauge gaze gem gentle geyser giant giggle ginger
give glad gleam globe glory glue goal goose grace grand graph grass greet grey grip group grove grow guard
guess guide guitar gulf habit half hammer hand handle happy harbor harp hawk hay hazel health heart height
hello helmet help herd heron hiking hill hinge hint hockey hold hollow holly honest honey hoof hope horn horse
hotel hover human humor ice icicle idea idle igloo image inch index indigo inlet inn insect inside invite iris
iron island item ivory ivy jacket jade jam jazz jeans jelly jetty jewel join joke joy judge juice july jump
june jungle junior just kayak keep kernel kettle key king kiosk kite kiwi knee knob koala ladder lady lagoon
lamb lane lapel large lark laugh laurel lava lawn layer lead learn leave left legend lemon length lens lesson
letter level lilac lily lime limit linen lion liquid listen little llama loaf lobby lodge log logic loop lotus
loud lounge lucky lunar lunch lyric magic magnet main make manner map maple marble march margin marine market
maroon mask matter maybe mayor meadow medley meet melody melon member memory menu merit merry mesh metal meter
method middle mimic minor minute mirror mist mitten moat model modern moment monday monkey month mood moss
mother motion mouse movie much mud museum music name napkin narrow nation native nature navy neck nectar
needle nephew never new nimble noble noise noon note notice novel number nurse nut nutmeg oar oasis object
oboe ocean odd offer office often olive omelet only opera orbit orchid order organ origin ounce outer oval
oven oxygen oyster page pair palace palm panda panel paper parade parcel pardon parent parrot party pass pasta
pastel path patio pause paw peace peanut pearl pebble pedal pencil people pepper period person pet phone photo
phrase piano picnic piece pigeon pink pipe pizza plain planet plank plate play plaza please pleat plenty plot
plus poem polish polite pollen pony poppy porch post potato powder praise prefer press pretty prince print
prism prize proof proper proud public puddle puffin pulse pupil puppet purple puzzle quail quarry quart queen
quest quick quiet quill quiz quote rabbit radar radio radish raft raisin ranch range rapid raven razor ready
rebel recall recipe record red reef relax remain remark remote rent repair repeat reply report rescue result
return reward rhythm ribbon rich ridge ripple river road robin robot rocket rodeo roll room rose rotor route
royal rubber ruby rudder rug rule rustic saddle safari salad salmon salt sandal satin saturn sauce sauna scale
scarf scene school scoop scout screen script scroll season seat second seed seesaw select senior sense serene
seven shadow shape shark shelf shield shine ship shore shower shrimp shrub sight sign silent silk silver
simple sister six size skate sketch skirt sky sleep sleeve sleigh slide slope small smart smile smooth snack
snail snow soccer sock soda soft soil solar solid solo some song sound soup spare speak speech spell spend
sphere spice spider spin spiral spirit splash sponge spoon sport spray spring spruce square stable staff stage
stair stamp stand statue stay steel stereo stick still stool stop story stove straw stream street stripe
strong studio study style sugar suit summer summit sun sunday sunny sunset surf swan sweet swift swim swing
switch syrup system tackle tail tailor tango tart taste taxi teach teal tempo ten tenor term text thank thick
thing third three thumb thyme tiger tiny tip title toast today toe token topaz topic total touch tour tower
town track trade train tray treat tribe trio trout true trunk trust truth tulip tuna turn tutor tweed twig
twirl twist two type uncle under union unit until upper usual valve vapor vast vault venue verse very video
view vine viola visit vista vital vivid vocal voice wagon wait wall warm wasp watch water wave wax wedge week
west whale wheat wheel whisk wild win wise wolf wool work world worth wrap wren wrist write yacht yarn year
yes young youth zebra zero zinc zone zoo
"""
WORDS = tuple(_TEXT.split())
