import type { PictureAnalysis } from '../model/picture-analysis';

/** What menus and buttons of programs say, in the languages that text is read in (common practice of interfaces). */
const CONTROLS = new Set(
  `file edit view help tools window options settings preferences cancel close apply ok save open insert format search
  datei bearbeiten ansicht hilfe extras fenster optionen einstellungen abbrechen schließen übernehmen speichern öffnen einfügen
  fichier édition affichage aide outils fenêtre annuler fermer appliquer enregistrer ouvrir insertion
  archivo editar ver ayuda herramientas ventana opciones cancelar cerrar aplicar aceptar guardar abrir insertar
  modifica visualizza aiuto strumenti finestra opzioni annulla chiudi applica salva apri inserisci
  bestand bewerken beeld extra venster annuleren sluiten toepassen opslaan openen invoegen
  arquivo exibir ajuda ferramentas janela opções fechar salvar inserir`.split(/\s+/),
);
const LEAST = 2;
/** Words beyond which nothing is a poster. */
const TOO_MANY = 120;

/** Whether what is written in a picture is what a program's window says: then it is a picture of a screen, whatever it looks like. */
export function isProgram(seen: PictureAnalysis | null | undefined): boolean {
  if (!seen?.text) return false;
  const words = seen.text
    .toLowerCase()
    .split(/[^\p{L}]+/u)
    .filter(Boolean);
  return words.length > TOO_MANY || new Set(words.filter((w) => CONTROLS.has(w))).size >= LEAST;
}
