/** The content of a file in base64, as uploads are sent. */
export function base64Of(content: Blob): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => {
      resolve((typeof reader.result === 'string' ? reader.result : '').replace(/^[^,]*,/u, ''));
    };
    reader.onerror = () => {
      reject(new Error('the file could not be read'));
    };
    reader.readAsDataURL(content);
  });
}
