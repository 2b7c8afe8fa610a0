/** Hand a text, or bytes, to the person as a file. */
export function saveFile(name: string, type: string, text: string | Blob): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}

/** A picture of lines as one of dots, twice as fine as the screen, on white. */
export async function pngOf(svg: string): Promise<Blob> {
  const url = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const canvas = document.createElement("canvas");
    canvas.width = image.width * 2;
    canvas.height = image.height * 2;
    const drawing = canvas.getContext("2d");
    if (!drawing) throw new Error("This browser draws no pictures.");
    drawing.fillStyle = "#ffffff";
    drawing.fillRect(0, 0, canvas.width, canvas.height);
    drawing.drawImage(image, 0, 0, canvas.width, canvas.height);
    return await new Promise<Blob>((resolve, reject) =>
      canvas.toBlob(
        (blob) => (blob ? resolve(blob) : reject(new Error("The picture is empty."))),
        "image/png",
      ),
    );
  } finally {
    URL.revokeObjectURL(url);
  }
}

/** Save what an address gives, under the name that it says. */
export function saveAddress(address: string): void {
  const link = document.createElement("a");
  link.href = address;
  link.download = "";
  link.click();
}
