import { plainWord } from '../joint/spelled.ts';
import type { ElementKind } from '../train/model.ts';
import type { CsvColumn } from './csvColumns.ts';

/**
 * Headings people use, in English, German, French, Spanish and Italian: lower case, accents and marks off (common
 * practice, no source).
 */
export const HEADINGS: Readonly<Record<CsvColumn, readonly string[]>> = {
  partId: words(`partid id part no nr n num number partnumber label nummer teilenummer teilnr artikelnummer bezeichner
    numero reference ref numeropieza codigo codice riferimento pos`),
  kind: words('kind type category art typ kategorie sorte categorie genre tipo categoria'),
  name: words(`name description title bezeichnung beschreibung titel benennung nom designation libelle nombre
    descripcion titulo nome descrizione titolo`),
  lengthMm: words(`lengthmm length opticallength thickness backfocusused mm published lange laenge dicke baulange
    baulaenge longueur epaisseur longitud largo espesor lunghezza spessore`),
  toleranceMm: words('tolerancemm tolerance tol toleranz tolerancia tolleranza'),
  measuredMm: words('measuredmm measured reading gemessen messwert mesure mesuree medido medida misurato misura'),
  measuredUncertaintyMm: words(
    'measureduncertaintymm uncertainty u unsicherheit messunsicherheit incertitude incertidumbre incertezza'
  ),
  sky: words(`latotelescopio sky skyface skyside telescopeside scopeside front teleskopseite himmelsseite vorne vorn cotetelescope cotetube avant
    ladotelescopio ladocielo frontal delante davanti`),
  camera:
    words(`camera cameraface cameraside back rear kameraseite kamera hinten cotecamera arriere ladocamara camara detras
    latocamera retro dietro`),
  femaleThread:
    words(`femalethread femalethreads innerthread internalthread innengewinde ig filetagefemelle filetageinterieur
    roscahembra roscainterior filettaturafemmina filettaturainterna`),
  maleThread: words(`malethread malethreads outerthread externalthread aussengewinde ag filetagemale filetageexterieur
    roscamacho roscaexterior filettaturamaschio filettaturaesterna`),
  clearMm:
    words(`clearmm clear clearaperture innerdiameter idmm innendurchmesser freieoffnung diametreinterieur ouverture
    diametrointerior diametrointerno`),
  outerMm: words('outermm outer outerdiameter od aussendurchmesser diametreexterieur diametroexterior diametroesterno'),
  massG: words('massg mass weight weightg gewicht gewichtg masse poids peso massa'),
  reversible: words('reversible umkehrbar wendbar reversibile'),
  removable: words('removable abnehmbar amovible desmontable rimovibile'),
  quantity: words(
    'quantity qty qte stk count pieces anzahl menge stuck stueck quantite nombrepieces cantidad quantita pezzi'
  ),
  owned: words('owned have vorhanden besitz possede tengo posseduto'),
  price: words('price cost preis kosten prix cout precio coste prezzo costo'),
  location: words(
    'location place where tin box ort platz lagerort kiste dose lieu emplacement boite lugar ubicacion caja luogo posizione scatola'
  ),
  state: words('state status zustand etat estado stato'),
  note: words(
    'note notes comment remarks notiz notizen bemerkung kommentar remarque commentaire nota notas comentario commento'
  ),
  more: words('more')
};

function words(list: string): string[] {
  return list.split(/\s+/).filter(Boolean);
}

/** A heading less what stands in brackets behind it: `Masse [kg]`, `Length (inch)`. */
export const withoutBrackets = (heading: string): string => heading.replace(/\s*[([][^)\]]*[)\]]\s*$/, '');

/** A heading less the unit in it: `lengthmm`, `preiseur`. */
export const withoutUnit = (plain: string): string =>
  plain.length > 4 ? plain.replace(/(?:inmm|mm|gramm|gr|eur|euro|usd|gbp|chf|ing|stk)$/, '') : plain;

const KINDS: Readonly<Record<Exclude<ElementKind, 'gap'>, readonly string[]>> = {
  spacer: words(
    'ring spacerring distanzring zwischenring distanzhulse distanzhuelse bague entretoise anillo espaciador separador anello distanziatore distanziale'
  ),
  adapter: words('adaptor adapterring stufenring gewindeadapter adaptateur baguedadaptation adaptador adattatore'),
  'variable-spacer': words(
    'variospacer variabledistanz verstellring baguevariable espaciadorvariable distanziatorevariabile'
  ),
  shim: words(
    'shims passscheibe distanzscheibe feinring unterlegscheibe cale rondelle arandela calzo spessoresottile rondella'
  ),
  'extension-tube': words(
    'extension tube verlangerung verlaengerung verlangerungshulse verlaengerungshuelse tube tubeallonge allonge tuboextension extensor tubodiprolunga prolunga'
  ),
  rotator: words('rotator rotateur rotador rotatore'),
  'tilt-plate': words('tilter tilt tiltplatte verkippungsausgleich plaquedetilt placadeinclinacion piastraditilt'),
  focuser: words('okularauszug auszug fokussierer porteoculaire focalizador enfocador focheggiatore'),
  'adaptive-optics': words('ao adaptiveoptik optiqueadaptative opticaadaptativa otticaadattiva'),
  'off-axis-guider': words('oag offaxisguider offaxis diviseuroptique guidehorsaxe guiafueradeeje guidafuoriasse'),
  'filter-wheel': words('wheel fw filterrad roueafiltres ruedaportafiltros ruedadefiltros ruotaportafiltri'),
  'filter-drawer': words(
    'drawer filterschublade filterschieber tiroirafiltres cajonportafiltros portafiltri cassettoportafiltri'
  ),
  filter: words('filtre filtro'),
  'bayonet-adapter': words('tring t2ring bajonettadapter baguet adaptadorbayoneta anellot adattatorebaionetta'),
  corrector: words(
    'reducer flattener reducerflattener comacorrector korrektor reducteur correcteur aplanisseur reductor aplanador corrector riduttore spianatore correttore'
  ),
  camera: words('kamera appareil camara fotocamera')
};

const KIND_OF = new Map(
  Object.entries(KINDS).flatMap(([kind, names]) => names.map((name) => [name, kind as keyof typeof KINDS] as const))
);

/** Kind of part by a word for it in one of the languages; undefined where it is none of them. */
export const kindOfWord = (text: string): Exclude<ElementKind, 'gap'> | undefined => KIND_OF.get(plainWord(text));

export const YES: ReadonlySet<string> = new Set(words('yes y true 1 x ja j oui o si s vrai wahr verdadero vero'));
export const NO: ReadonlySet<string> = new Set(words('no n false 0 nein non faux falsch falso'));
