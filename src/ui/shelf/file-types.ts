/** What can be imported, as a file chooser takes it. */
export const FILE_TYPES =
  'video/*,audio/*,image/png,image/jpeg,image/webp,image/tiff,image/gif,image/avif,.mkv,.mxf,.mov,.avi,.ts,.y4m,.wav,.flac,.mp3,.aac,.m4a,.opus,.ogg,.aif,.aiff,.tif,.tiff,.zip';
